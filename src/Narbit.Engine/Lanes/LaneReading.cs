using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Pairing;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes;

/// <summary>What a kind of lane reads: which records it pairs, and what concerns it.</summary>
/// <param name="work">The kind.</param>
public abstract class LaneReading(LaneWork work)
{
    /// <summary>The kind.</summary>
    protected LaneWork Work => work;

    /// <summary>Whether what happens to records of a kind in its source concerns it.</summary>
    public virtual bool Hears(RecordKind kind) => kind == Work.Record;

    /// <summary>What such a lane must read, in order.</summary>
    public abstract IReadOnlyList<LaneRead> Reads(OpenLane lane);

    /// <summary>Every pair of records in the lane's scope, in the order in which the target's were first read.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="documents">The documents that will be applied; what they need is read.</param>
    /// <param name="only">The source's records that are wanted, where the work can tell; null: all of them.</param>
    /// <param name="cancel">Gives up.</param>
    public abstract IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    );

    /// <summary>The source's records that a small turn is about, as far as this lane goes.</summary>
    /// <param name="db">Where records and pairs are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="scope">What was touched.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual async Task<IReadOnlyCollection<string>> ConcernedAsync(
        NarbitContext db,
        Lane lane,
        TurnScope scope,
        CancellationToken cancel
    )
    {
        var here = scope.Of(lane.SourceId, Work.Record);
        var there = Work.Writing.WritesSource ? scope.Of(lane.TargetId, Work.Record) : [];
        if (there.Count == 0)
            return here;
        var book = await PairBook.OpenAsync(db, Work.Record, lane.SourceId, lane.TargetId, cancel);
        var linked = await book.Links(db).Where(l => there.Contains(l.TargetKey)).Select(l => l.SourceKey).ToListAsync(cancel);
        return [.. here.Union(linked, StringComparer.Ordinal)];
    }

    /// <summary>What a small run reads anew; what it was told of is in the mirror already.</summary>
    /// <param name="db">Where records and pairs are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="only">The source's records that it looks at.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual Task<IReadOnlyList<RecordsTouched>> ReadsOfAsync(
        NarbitContext db,
        OpenLane lane,
        IReadOnlySet<string> only,
        CancellationToken cancel
    ) => Task.FromResult<IReadOnlyList<RecordsTouched>>([]);

    /// <summary>What a run has touched, so that others look at it.</summary>
    /// <param name="db">Where the run is.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="run">The run, which is over.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual async Task<IReadOnlyList<RecordsTouched>> TouchedByAsync(NarbitContext db, Lane lane, Run run, CancellationToken cancel)
    {
        var written = await db
            .Writes.Where(w => w.RunId == run.Id && w.State == WriteState.Confirmed)
            .Select(w => new
            {
                w.Way,
                w.Record,
                Key = w.Way == Way.There ? w.TargetKey : w.SourceKey,
            })
            .ToListAsync(cancel);
        return
        [
            .. written
                .GroupBy(w => (w.Way, w.Record))
                .Select(g => new RecordsTouched(
                    g.Key.Way == Way.There ? lane.TargetId : lane.SourceId,
                    g.Key.Record,
                    [.. g.Select(w => w.Key)]
                )),
        ];
    }
}
