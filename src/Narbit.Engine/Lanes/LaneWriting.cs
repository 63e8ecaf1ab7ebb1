using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes;

/// <summary>
/// What a kind of lane writes: which records, how what it creates is remembered, and what it adds after the plan and after a write was
/// confirmed. As it stands here: one kind of record, by pairs that people look after.
/// </summary>
/// <param name="work">The kind.</param>
public class LaneWriting(LaneWork work)
{
    /// <summary>The kind.</summary>
    protected LaneWork Work => work;

    /// <summary>The kinds of record that its runs write, in the order in which they are sent: what others need first.</summary>
    public virtual IReadOnlyList<RecordKind> Writes => [work.Record];

    /// <summary>The kinds of record that are created with a chosen one that refers to them, though nobody chose them.</summary>
    public virtual IReadOnlyList<RecordKind> GoAlong => [];

    /// <summary>Whether it may write to its source too.</summary>
    public virtual bool WritesSource => true;

    /// <summary>Whether a record that is created gets its first values of this kind at once.</summary>
    public virtual bool GivesFirstValues => false;

    /// <summary>Whether it goes by pairs that people look after, and keeps field by field what both sides agree on.</summary>
    public virtual bool GoesByPairs => work.Pairs;

    /// <summary>Whether its source is told of what has arrived at the target, in the same run and not before.</summary>
    public virtual bool TellsSource => false;

    /// <summary>The kind of record that a reference in a record refers to.</summary>
    /// <param name="role">What the reference means.</param>
    public virtual RecordKind Referenced(FieldRole role) => work.Record;

    /// <summary>Where it is kept what became which record.</summary>
    /// <param name="db">Where pairs are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="record">The kind of record.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual async Task<ICreatedLinks> LinksAsync(NarbitContext db, OpenLane lane, RecordKind record, CancellationToken cancel) =>
        await lane.BookAsync(db, cancel);

    /// <summary>What such a lane keeps of every record that it looks at, beside what it writes; null: nothing.</summary>
    public virtual ILaneLedger? Ledger(OpenLane lane, DateTimeOffset now) => null;

    /// <summary>Notes that a write of a run, and not of one that takes back, has arrived, within the caller's transaction.</summary>
    /// <param name="db">Where.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="write">The write.</param>
    /// <param name="lists">What the lists mean that were written with it.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual Task ArrivedAsync(
        NarbitContext db,
        OpenLane lane,
        PlannedWrite write,
        IReadOnlyList<ListRole> lists,
        CancellationToken cancel
    ) => Task.CompletedTask;

    /// <summary>Notes that a record which a run had created was ended by one that takes back, within the caller's transaction.</summary>
    /// <param name="db">Where.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="run">The run that takes back.</param>
    /// <param name="write">The write.</param>
    /// <param name="now">The time.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual Task TakenBackAsync(
        NarbitContext db,
        OpenLane lane,
        Run run,
        PlannedWrite write,
        DateTimeOffset now,
        CancellationToken cancel
    ) => Task.CompletedTask;

    /// <summary>Notes that a write of a run that takes back did not arrive, within the caller's transaction.</summary>
    public virtual Task HalfTakenBackAsync(NarbitContext db, OpenLane lane, PlannedWrite write, CancellationToken cancel) =>
        Task.CompletedTask;

    /// <summary>Why a record that a run created cannot be taken away any more, in words; null: it can, as far as is known.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="write">The write that created it.</param>
    /// <param name="values">Its values now.</param>
    /// <param name="children">Its lists now.</param>
    public virtual string? InTheWay(
        OpenLane lane,
        PlannedWrite write,
        IReadOnlyDictionary<string, string> values,
        RecordChildren children
    ) => null;
}
