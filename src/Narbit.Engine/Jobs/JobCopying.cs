using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Makes a job like another one for another store: with the same timetable and order, and for each lane the one that does the same for
/// that store, or a new one like it. The other store's lanes that are in a job already stay there.
/// </summary>
/// <param name="database">Where jobs and lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="desk">What keeps jobs.</param>
/// <param name="clock">The time.</param>
public sealed class JobCopying(Database database, AdapterSource adapters, JobDesk desk, TimeProvider clock)
{
    /// <summary>Makes it; it is switched off at first, so that nothing begins unseen.</summary>
    /// <param name="id">The job that it is like.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="from">The store that is exchanged.</param>
    /// <param name="to">The store that takes its place.</param>
    /// <param name="by">Who makes it.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Its short name, or why there can be no such job.</returns>
    public async Task<Outcome<string>> CopyAsync(string id, string name, string? from, string? to, string by, CancellationToken cancel)
    {
        JobDocument like;
        List<Lane> lanes;
        HashSet<string> taken;
        await using (var db = database.CreateDbContext())
        {
            if (await db.Jobs.AsNoTracking().Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel) is not { } job)
                return new Reason("job.unknown", $"There is no job “{id}”.");
            like = JobJson.Of(job);
            lanes = await db.Lanes.AsNoTracking().ToListAsync(cancel);
            taken = (await db.JobLanes.Select(l => l.LaneId).ToListAsync(cancel)).ToHashSet(StringComparer.Ordinal);
        }

        if (from is null || to is null || from == to)
            return new Reason("job.copy", "Say which store is exchanged for which other one; a lane is in one job only.");
        // What is in a job already is said before any lane is made.
        var wanted = like
            .Lanes.Select(l => lanes.Find(o => o.Id == l.Lane))
            .OfType<Lane>()
            .Where(l => l.SourceId == from || l.TargetId == from);
        var there = wanted.Select(l => Find(lanes, l.Kind, Exchanged(l.SourceId), Exchanged(l.TargetId))).OfType<Lane>();
        if (there.FirstOrDefault(l => taken.Contains(l.Id)) is { } inJob)
            return new Reason("job.laneElsewhere", $"The lane “{inJob.Id}” is in a job already; a lane is in one job only.");
        var entries = new List<LaneInJob>();
        foreach (var entry in like.Lanes)
            if (lanes.Find(l => l.Id == entry.Lane) is { } lane && (lane.SourceId == from || lane.TargetId == from))
            {
                var other = await LikeAsync(lane, lanes, (Exchanged(lane.SourceId), Exchanged(lane.TargetId)), by, cancel);
                if (other.Fault is { } fault)
                    return fault;
                entries.Add(entry with { Lane = other.Value });
            }

        string Exchanged(string system) => system == from ? to : system;

        return entries.Count == 0
            ? new Reason("job.copy", "None of its lanes has to do with that store, so there is nothing to copy.")
            : await desk.SaveAsync(null, like with { Name = name, Lanes = entries, Off = true, OnTop = false }, cancel);
    }

    private static Lane? Find(List<Lane> lanes, string kind, string source, string target) =>
        lanes.Find(l => l.Kind == kind && l.SourceId == source && l.TargetId == target);

    // The lane that does the same between other systems, or a new one like it.
    private async Task<Outcome<string>> LikeAsync(
        Lane lane,
        List<Lane> lanes,
        (string Source, string Target) ends,
        string by,
        CancellationToken cancel
    )
    {
        if (Find(lanes, lane.Kind, ends.Source, ends.Target) is { } there)
            return there.Id;
        return await new LaneMaker(database, adapters, clock).CopyAsync(lane.Id, ends.Source, ends.Target, by, cancel);
    }
}
