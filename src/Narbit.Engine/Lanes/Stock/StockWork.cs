using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes.Stock;

/// <summary>A stock rule as a lane's document.</summary>
/// <param name="Rule">The rule.</param>
public sealed record StockDocument(StockRule Rule) : LaneDocument
{
    /// <summary>Whether what was sold and has not reached the source yet counts as promised.</summary>
    public bool CountsOpenSales { get; init; }
}

/// <summary>Quantities by a stock rule.</summary>
internal sealed class StockWork : LaneWork
{
    /// <summary>The kind's code.</summary>
    public const string Code = "stock";

    /// <inheritdoc/>
    public override string Kind => Code;

    /// <inheritdoc/>
    public override int PlaceInJob => 4;

    /// <inheritdoc/>
    public override Stake Stake => Stake.Pieces;

    /// <inheritdoc/>
    public override StockPart StockPart => StockPart.TellsStock;

    /// <inheritdoc/>
    public override string Label => "Stock levels";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("quantity", "quantities");

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        LaneStep.Pairs,
        new("rule", "Stock rule"),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];

    /// <inheritdoc/>
    public override string? MoveUnit => "pcs";

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } =
    [WatchedLimit.ChangedShare, new("toZero", "More quantities fall to 0 than", "records"), WatchedLimit.FailingTimes];

    /// <inheritdoc/>
    public override decimal? MoveOf(string? before, string? after) => Amounts.Of(after) - Amounts.Of(before);

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new StockReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new StockComputing(this);

    /// <inheritdoc/>
    public override LaneWriting Writing => field ??= new StockWriting(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class StockReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override bool Hears(RecordKind kind) => kind == RecordKind.Item || kind == RecordKind.StockLevel;

    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [
            new(lane.Source.System.Id, RecordKind.Item),
            new(lane.Source.System.Id, RecordKind.StockLevel),
            new(lane.Target.System.Id, RecordKind.Item),
        ];

    /// <inheritdoc/>
    public override async Task<IReadOnlyCollection<string>> ConcernedAsync(
        NarbitContext db,
        Lane lane,
        TurnScope scope,
        CancellationToken cancel
    )
    {
        var levels = scope.Of(lane.SourceId, RecordKind.StockLevel);
        var items = await db
            .Records.Where(r => r.SystemId == lane.SourceId && r.Kind == RecordKind.StockLevel && levels.Contains(r.Key))
            .Select(r => r.Parent)
            .ToListAsync(cancel);
        return [.. items.OfType<string>().Union(scope.Of(lane.SourceId, RecordKind.Item), StringComparer.Ordinal)];
    }

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<RecordsTouched>> ReadsOfAsync(
        NarbitContext db,
        OpenLane lane,
        IReadOnlySet<string> only,
        CancellationToken cancel
    )
    {
        var (source, target) = (lane.Source.System.Id, lane.Target.System.Id);
        var links = await (await lane.BookAsync(db, cancel)).ByTargetAsync(db, only, cancel);
        var items = links.Values.SelectMany(l => l).Select(l => l.SourceKey).ToHashSet(StringComparer.Ordinal);
        var levels = await db
            .Records.Where(r =>
                r.SystemId == source && r.Kind == RecordKind.StockLevel && r.Parent != null && items.Contains(r.Parent) && r.GoneAt == null
            )
            .Select(r => r.Key)
            .ToListAsync(cancel);
        // What is sold there lowers the quantity there, so it is asked for as well.
        return [new(source, RecordKind.StockLevel, levels), new(target, RecordKind.Item, links.Keys)];
    }

    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) =>
        ListedPairs.ReadAsync(
            lane,
            database,
            new ListedNeeds(
                Levels: true,
                Kits: true,
                documents.OfType<StockDocument>().Any(d => d.CountsOpenSales)
                    ? sold => OpenSales.LevelsAsync(lane.Source.System.Id, database, sold)
                    : null
            ),
            only,
            cancel
        );
}

/// <summary>How such a lane computes.</summary>
internal sealed class StockComputing(LaneWork work) : LaneComputing<StockDocument>(work)
{
    /// <inheritdoc/>
    public override IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides)
    {
        var rule = ((StockDocument)document).Rule;
        FieldRole[] roles =
        [
            FieldRole.OnHand,
            FieldRole.Location,
            .. rule.Basis == StockBasis.Available ? [FieldRole.Allocated] : Array.Empty<FieldRole>(),
            .. rule.IncludeIncoming ? [FieldRole.Incoming] : Array.Empty<FieldRole>(),
        ];
        foreach (var field in roles.Select(r => sides.Levels?.Find(r)).OfType<FieldDescription>())
            yield return new FieldUse(OfSource: true, RecordKind.StockLevel, field.Name);
        if (sides.Target.Find(FieldRole.OnHand) is { } quantity)
            yield return new FieldUse(OfSource: false, RecordKind.Item, quantity.Name);
    }

    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) => new StockDocument(new StockRule());

    /// <inheritdoc/>
    public override Reason? Unfit(LaneSides sides) =>
        sides.Target.Find(FieldRole.OnHand) is null ? NoField.With(sides.TargetName, FieldRole.OnHand)
        : sides.Levels is null
            ? new Reason(
                "lane.noLevels",
                $"{sides.SourceName} describes no stock levels; there is nothing to compute quantities from. Amend its description."
            )
        : null;

    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(StockDocument document, LaneSides sides, IReadOnlyCollection<string> locations) =>
        StockRuleCheck.Check(document.Rule, locations);

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(StockDocument document, LaneSides sides, DateTimeOffset at) =>
        sides.Target.Find(FieldRole.OnHand) is null
            ? NoField.With(sides.TargetName, FieldRole.OnHand)
            : new StockComputation(document, sides);

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, StockDocument trial, GuardLimits guards, string? focus) =>
        new ValueTally(Work, guards);

    // Once somebody divides the stock among stores, what is left undivided counts in full.
    /// <inheritdoc/>
    public override async Task<IReadOnlyList<RuleFault>> CheckAmongAsync(
        NarbitContext db,
        OpenLane lane,
        LaneDocument document,
        CancellationToken cancel
    )
    {
        if (document is not StockDocument { Rule: var rule })
            return [];
        var others = await (
            from l in db.Lanes
            join v in db.RuleVersions on new { LaneId = l.Id, Number = l.RuleNumber } equals new { v.LaneId, v.Number }
            join s in db.Systems on l.TargetId equals s.Id
            where l.Kind == lane.Lane.Kind && l.SourceId == lane.Lane.SourceId && l.Id != lane.Lane.Id && !l.Off
            orderby s.Name
            select new { s.Name, v.Document }
        ).ToListAsync(cancel);
        // Stores that are fed from other locations take nothing from this one's.
        var shares = others
            .Select(o => (o.Name, Rule: (LaneJson.Read(o.Document).ValueOrDefault as StockDocument)?.Rule))
            .Where(o => o.Rule is not null && Meet(o.Rule, rule))
            .Select(o => (o.Name, o.Rule!.Share))
            .Prepend((lane.Target.System.Name, rule.Share))
            .ToList();
        var sum = shares.Sum(s => s.Share ?? 100);
        if (shares.TrueForAll(s => s.Share is null) || sum <= 100)
            return [];
        var each = string.Join(", ", shares.Select(s => $"{s.Name} {Numbers.Plain(s.Share ?? 100)} %"));
        return
        [
            new RuleFault(
                "share",
                Severity.Warn,
                $"Together the stores are given {Numbers.Plain(sum)} % of the same stock: {each}. Between two runs they can sell more "
                    + "than there is."
            ),
        ];

        static bool Meet(StockRule a, StockRule b) =>
            a.Locations.Count == 0 || b.Locations.Count == 0 || a.Locations.Intersect(b.Locations, StringComparer.Ordinal).Any();
    }
}

/// <summary>What such a lane writes.</summary>
internal sealed class StockWriting(LaneWork work) : LaneWriting(work)
{
    /// <inheritdoc/>
    public override bool WritesSource => false;

    /// <inheritdoc/>
    public override bool GivesFirstValues => true;
}
