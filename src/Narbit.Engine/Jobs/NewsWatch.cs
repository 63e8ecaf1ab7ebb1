using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Mirror;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Looks for news where nobody tells of them: files that arrive, and the change lists of systems that jobs ask to be read every few
/// seconds. What is new is read, and told.
/// </summary>
/// <param name="database">Where jobs and the mirror are.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="reader">What reads them.</param>
/// <param name="signals">Who is told.</param>
/// <param name="clock">The time.</param>
/// <param name="log">Where it is written what could not be looked at.</param>
public sealed class NewsWatch(
    Database database,
    AdapterSource adapters,
    MirrorReader reader,
    Signals signals,
    TimeProvider clock,
    ILogger<NewsWatch> log
)
{
    private static readonly TimeSpan Beat = TimeSpan.FromSeconds(1);

    // What was seen last of each place, and whether it has been read.
    private readonly Dictionary<Place, Seen> _seen = [];

    // The places of which all news was told.
    private readonly HashSet<Place> _told = [];

    private readonly record struct Place(string SystemId, RecordKind Kind);

    private sealed record Seen(string? Stamp, bool Read, DateTimeOffset At);

    /// <summary>Looks until it is told to stop.</summary>
    public async Task WorkAsync(CancellationToken cancel)
    {
        while (true)
        {
            await Task.Delay(Beat, clock, cancel);
            await LookAsync(cancel);
        }
    }

    /// <summary>Looks at every place once, where it is time.</summary>
    public async Task LookAsync(CancellationToken cancel)
    {
        foreach (var (place, every) in await PlacesAsync(cancel))
            try
            {
                await LookAsync(place, every, cancel);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "{System} could not be looked at for news; it is looked at again", place.SystemId);
            }
    }

    // Where the lanes of jobs that run at once come from, with how often it is asked for; null: whatever tells of itself.
    private async Task<IReadOnlyDictionary<Place, int?>> PlacesAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var jobs = await db.Jobs.AsNoTracking().Include(j => j.Lanes).Where(j => j.AtOnce && !j.Off).ToListAsync(cancel);
        if (jobs.Count == 0)
            return new Dictionary<Place, int?>();
        var lanes = await db.Lanes.AsNoTracking().Where(l => !l.Off && !l.Paused).ToDictionaryAsync(l => l.Id, cancel);
        var places = new Dictionary<Place, int?>();
        foreach (var (job, entry) in jobs.SelectMany(j => j.Lanes, (j, l) => (Job: j, Entry: l)))
            if (lanes.TryGetValue(entry.LaneId, out var lane))
                foreach (var kind in RecordKind.All.Where(k => LaneWorks.Of(lane.Kind).Reading.Hears(k)))
                    places[new Place(lane.SourceId, kind)] = Sooner(places.GetValueOrDefault(new Place(lane.SourceId, kind)), job);
        return places;
    }

    private static int? Sooner(int? every, Job job) => job.LookEverySeconds is { } its && (every is null || its < every) ? its : every;

    private async Task LookAsync(Place place, int? every, CancellationToken cancel)
    {
        var connection = await adapters.ForAsync(place.SystemId, cancel);
        if (connection.ValueOrDefault is not { } system || Pause.Of(system.System) is not null || !system.System.MayRead)
            return;
        if (system.Adapter.Kinds.FirstOrDefault(k => k.Kind == place.Kind) is not { ReadWith: null })
            return;
        var now = clock.GetUtcNow();
        var seen = _seen.GetValueOrDefault(place);
        if (await system.Adapter.StampAsync(place.Kind, cancel) is { } stamp)
            await FileAsync(place, seen, stamp, now, cancel);
        else if (every is { } seconds && system.Adapter.ReadsChanges(place.Kind))
            await ChangesAsync(place, seen, now, seconds, cancel);
    }

    // A file is read once it is seen for the second time as it was, so that one that is still being written is left alone. What is there at
    // the start may have come while nobody looked.
    private async Task FileAsync(Place place, Seen? seen, string stamp, DateTimeOffset now, CancellationToken cancel)
    {
        if (seen?.Stamp != stamp)
            _seen[place] = new Seen(stamp, Read: false, now);
        else if (!seen.Read)
        {
            _seen[place] = seen with { Read = true };
            await ReadAsync(place, "File", cancel);
        }
    }

    private async Task ChangesAsync(Place place, Seen? seen, DateTimeOffset now, int seconds, CancellationToken cancel)
    {
        if (seen is not null && now >= seen.At && now - seen.At < TimeSpan.FromSeconds(seconds))
            return;
        _seen[place] = new Seen(null, Read: true, now);
        await ReadAsync(place, "Change list", cancel);
    }

    private async Task ReadAsync(Place place, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        // What the last reading found may not have been told, as the process ended before it was, or the telling failed.
        var since = _told.Remove(place) ? clock.GetUtcNow() : await LastReadAsync(db, place, cancel) ?? clock.GetUtcNow();
        var read = await reader.ReadAsync(place.SystemId, place.Kind, full: false, cancel);
        if (read.Fault is { } unread)
        {
            log.LogInformation("{System} was looked at for news, in vain: {Why}", place.SystemId, unread.Words);
            return;
        }

        var changed = await db
            .Records.Where(r => r.SystemId == place.SystemId && r.Kind == place.Kind && r.ChangedAt >= since)
            .Select(r => r.Key)
            .Take(TurnScope.Most + 1)
            .ToListAsync(cancel);
        if (changed.Count > 0)
            await signals.TellAsync(new RecordsTouched(place.SystemId, place.Kind, changed), by, cancel);
        _told.Add(place);
    }

    private static Task<DateTimeOffset?> LastReadAsync(NarbitContext db, Place place, CancellationToken cancel) =>
        db
            .Reads.Where(r => r.SystemId == place.SystemId && r.Kind == place.Kind && r.State == ReadState.Done)
            .MaxAsync(r => (DateTimeOffset?)r.StartedAt, cancel);
}
