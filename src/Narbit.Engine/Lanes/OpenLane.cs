using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>A lane with both its systems and its document at hand.</summary>
/// <param name="Lane">The lane.</param>
/// <param name="Work">What it does.</param>
/// <param name="Rule">The version in force.</param>
/// <param name="Document">That version's document.</param>
/// <param name="Source">The source.</param>
/// <param name="Target">The target.</param>
/// <param name="Sides">Both, as far as computing goes.</param>
public sealed record OpenLane(
    Lane Lane,
    LaneWork Work,
    RuleVersion Rule,
    LaneDocument Document,
    Connection Source,
    Connection Target,
    LaneSides Sides
)
{
    /// <summary>The lane's name as a person reads it.</summary>
    public string Name => Work.NameOf(Source.System.Name, Target.System.Name);

    /// <summary>The guards' limits in force.</summary>
    public GuardLimits Guards => Work.GuardsOf(Rule.Guards);

    /// <summary>Opens a lane.</summary>
    /// <returns>The lane, or why it cannot be used.</returns>
    public static async Task<Outcome<OpenLane>> ForAsync(Database database, AdapterSource adapters, string laneId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel);
        if (lane is null)
            return new Reason("lane.unknown", $"There is no lane “{laneId}”.");
        var rule = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == laneId && v.Number == lane.RuleNumber, cancel);
        var document = LaneJson.Read(rule.Document);
        if (document.Fault is { } unreadable)
            return unreadable;
        var source = await adapters.ForAsync(lane.SourceId, cancel);
        if (source.Fault is { } noSource)
            return noSource;
        var target = await adapters.ForAsync(lane.TargetId, cancel);
        if (target.Fault is { } noTarget)
            return noTarget;
        var work = LaneWorks.Of(lane.Kind);
        var sides = LaneSides.Of(work.Record, source.Value, target.Value);
        return work.Computing.Unfit(sides) is { } unfit
            ? unfit
            : new OpenLane(lane, work, rule, document.Value, source.Value, target.Value, sides);
    }

    /// <summary>The computation by the document in force.</summary>
    public Task<Outcome<LaneComputation>> ComputationAsync(Database database, DateTimeOffset at, CancellationToken cancel) =>
        ComputationAsync(Document, database, at, cancel);

    /// <summary>The computation by a document, with what other lanes between the two systems give a new record at first.</summary>
    /// <param name="document">The document.</param>
    /// <param name="database">Where the other lanes are.</param>
    /// <param name="at">The instant to compute for.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<LaneComputation>> ComputationAsync(
        LaneDocument document,
        Database database,
        DateTimeOffset at,
        CancellationToken cancel
    ) => Work.Computing.Computation(document, Sides with { First = await FirstAsync(database, at, cancel) }, at);

    /// <summary>Every finding about a document.</summary>
    public async Task<IReadOnlyList<RuleFault>> CheckAsync(LaneDocument document, Database database, CancellationToken cancel) =>
        Work.Computing.Check(document, Sides, await LocationsAsync(database, cancel));

    /// <summary>The source's locations, as its mirrored stock levels name them.</summary>
    public async Task<IReadOnlyCollection<string>> LocationsAsync(Database database, CancellationToken cancel)
    {
        if (Sides.Levels?.Find(FieldRole.Location) is not { } location)
            return [];
        await using var db = database.CreateDbContext();
        return [.. await ValueCounts.DistinctAsync(db, Source.System.Id, RecordKind.StockLevel, location.Name, cancel)];
    }

    /// <summary>The links between the two systems.</summary>
    public Task<PairBook> BookAsync(NarbitContext db, CancellationToken cancel) =>
        PairBook.OpenAsync(db, Work.Record, Source.System.Id, Target.System.Id, cancel);

    /// <summary>What the target's records last agreed on with the source's.</summary>
    public IQueryable<Agreed> AgreedThere(NarbitContext db) =>
        db.Agreed.Where(a => a.SystemId == Target.System.Id && a.Kind == Work.Record && a.WithId == Source.System.Id);

    /// <summary>Whether the lane takes a record of the source.</summary>
    public bool Takes(MirrorRow mine) =>
        Lane.SkuStartsWith is not { Length: > 0 } start || mine.Reference?.StartsWith(start, StringComparison.OrdinalIgnoreCase) == true;

    /// <summary>Whether the lane takes what is paired with a record of the target.</summary>
    public bool Shows(SideRecord target) => !Lane.PublishedOnly || Sides.Target.Text(target.Values, FieldRole.Published) != "false";

    // A lane that cannot be computed by gives no first values; it says so on its own page.
    private async Task<IReadOnlyList<(LaneWork, LaneComputation)>> FirstAsync(
        Database database,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        if (!Work.Pairs || Work.Writing.GivesFirstValues)
            return [];
        await using var db = database.CreateDbContext();
        var others = await (
            from l in db.Lanes
            join v in db.RuleVersions on new { LaneId = l.Id, Number = l.RuleNumber } equals new { v.LaneId, v.Number }
            where l.SourceId == Lane.SourceId && l.TargetId == Lane.TargetId && l.Id != Lane.Id && !l.Off
            select new { l.Kind, v.Document }
        ).ToListAsync(cancel);
        return
        [
            .. from other in others
            let work = LaneWorks.Of(other.Kind)
            where work.Writing.GivesFirstValues && work.Record == Work.Record
            orderby LaneWorks.Place(other.Kind)
            let document = LaneJson.Read(other.Document).ValueOrDefault
            where document is not null
            let computation = work.Computing.Computation(document, Sides, at).ValueOrDefault
            where computation is not null
            select (work, computation),
        ];
    }
}
