using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Runs;

namespace Narbit.Engine.Jobs;

/// <summary>What jobs take from a system's limit, in requests an hour, by what their runs took before.</summary>
public sealed record SystemRequests
{
    /// <summary>The system's short name.</summary>
    public required string SystemId { get; init; }

    /// <summary>What it is called.</summary>
    public required string Name { get; init; }

    /// <summary>What a turn takes; null: no run has said so yet.</summary>
    public double? PerTurn { get; init; }

    /// <summary>What the job takes in its busiest hour of the next week; null: no run has said so yet.</summary>
    public double? PerHour { get; init; }

    /// <summary>What the job takes a day, in the mean of the next week; null: no run has said so yet.</summary>
    public double? PerDay { get; init; }

    /// <summary>What the other jobs take in an hour, in the mean of the next day.</summary>
    public double OthersPerHour { get; init; }

    /// <summary>What the system allows in an hour; null: it says nothing of it.</summary>
    public double? LimitPerHour { get; init; }
}

/// <summary>Estimates what a job takes from the limits of its systems.</summary>
internal static class ExpectedRequests
{
    // So many runs say what is usual.
    private const int UsualRuns = 10;
    private const int Days = 7;

    /// <summary>What a job would take from each of its systems.</summary>
    public static async Task<IReadOnlyList<SystemRequests>> OfAsync(
        NarbitContext db,
        Job job,
        IReadOnlyList<string> daysOff,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        var own = job.Lanes.Select(l => l.LaneId).ToList();
        var lanes = await db.Lanes.AsNoTracking().Where(l => own.Contains(l.Id)).ToListAsync(cancel);
        var touched = lanes.SelectMany(l => new[] { l.SourceId, l.TargetId }).Distinct(StringComparer.Ordinal).ToList();
        var systems = await db.Systems.AsNoTracking().Where(s => touched.Contains(s.Id)).ToListAsync(cancel);
        var usual = await UsualAsync(db, small: false, cancel);
        var perHour = Turns(job, daysOff, now, Days).GroupBy(t => t.Ticks / TimeSpan.TicksPerHour).Select(g => g.Count()).ToList();
        var others = await db.Jobs.AsNoTracking().Include(j => j.Lanes).Where(j => j.Id != job.Id && !j.Off).ToListAsync(cancel);
        var othersPerHour = others.ToDictionary(j => j.Id, j => Turns(j, daysOff, now, 1).Count() / 24.0);
        return
        [
            .. systems
                .OrderBy(s => s.Name, StringComparer.Ordinal)
                .Select(system =>
                {
                    var turn = PerTurn(own, system.Mark, usual);
                    return new SystemRequests
                    {
                        SystemId = system.Id,
                        Name = system.Name,
                        PerTurn = turn,
                        PerHour = turn * perHour.DefaultIfEmpty(0).Max(),
                        PerDay = turn * perHour.Sum() / Days,
                        OthersPerHour = others.Sum(j =>
                            (PerTurn([.. j.Lanes.Select(l => l.LaneId)], system.Mark, usual) ?? 0) * othersPerHour[j.Id]
                        ),
                        LimitPerHour = SystemDocument.Read(system.Document).ValueOrDefault?.RequestsPerSecond is > 0 and var limit
                            ? limit * 3600
                            : null,
                    };
                }),
        ];
    }

    private static IEnumerable<DateTimeOffset> Turns(Job job, IReadOnlyList<string> daysOff, DateTimeOffset now, int days) =>
        JobTimes.Coming(job, daysOff, now).TakeWhile(t => t <= now.AddDays(days));

    /// <summary>What a turn of some lanes takes from a system; null: no run has said so yet.</summary>
    internal static double? PerTurn(IReadOnlyList<string> lanes, string mark, ILookup<string, Dictionary<string, int>> usual)
    {
        var known = lanes.Where(usual.Contains).ToList();
        return known.Count == 0 ? null : known.Sum(l => usual[l].Average(r => r.GetValueOrDefault(mark)));
    }

    /// <summary>What the last runs of each lane took from each system, whole ones or small ones.</summary>
    internal static async Task<ILookup<string, Dictionary<string, int>>> UsualAsync(NarbitContext db, bool small, CancellationToken cancel)
    {
        var rows = await db
            .Lanes.SelectMany(l =>
                db.Runs.Where(r =>
                        r.LaneId == l.Id
                        && !r.Preview
                        && (r.Only != null) == small
                        && r.State == RunState.Done
                        && r.RequestsBySystem != null
                    )
                    .OrderByDescending(r => r.Id)
                    .Take(UsualRuns)
                    .Select(r => new { r.LaneId, r.RequestsBySystem })
            )
            .ToListAsync(cancel);
        return rows.ToLookup(r => r.LaneId, r => Read(r.RequestsBySystem!), StringComparer.Ordinal);
    }

    private static Dictionary<string, int> Read(string kept) => JsonSerializer.Deserialize<Dictionary<string, int>>(kept)!;
}
