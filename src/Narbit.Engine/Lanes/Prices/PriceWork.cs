using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Data;

namespace Narbit.Engine.Lanes.Prices;

/// <summary>A price rule as a lane's document.</summary>
/// <param name="Rule">The rule.</param>
public sealed record PriceDocument(PriceRule Rule) : LaneDocument;

/// <summary>Prices by a price rule.</summary>
internal sealed class PriceWork : LaneWork
{
    /// <inheritdoc/>
    public override string Kind => "price";

    /// <inheritdoc/>
    public override int PlaceInJob => 3;

    /// <inheritdoc/>
    public override Stake Stake => Stake.Money;

    /// <inheritdoc/>
    public override string Label => "Prices";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("price", "prices");

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        LaneStep.Pairs,
        new("rule", "Price rule"),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];

    /// <inheritdoc/>
    public override string? MoveUnit => "%";

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } =
    [
        WatchedLimit.ChangedShare,
        new("priceMove", "A price moves by more than", "%"),
        WatchedLimit.BelowCost,
        WatchedLimit.MinMargin,
        WatchedLimit.ZeroPrice,
        WatchedLimit.FailingTimes,
    ];

    /// <inheritdoc/>
    public override decimal? MoveOf(string? before, string? after) => Numbers.Move(Amounts.Of(before), Amounts.Of(after));

    /// <inheritdoc/>
    public override LaneReading Reading => field ??= new PriceReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new PriceComputing(this);

    /// <inheritdoc/>
    public override LaneWriting Writing => field ??= new PriceWriting(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class PriceReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [new(lane.Source.System.Id, RecordKind.Item), new(lane.Target.System.Id, RecordKind.Item)];

    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) => ListedPairs.ReadAsync(lane, database, new ListedNeeds(Levels: false, Kits: false), only, cancel);
}

/// <summary>How such a lane computes.</summary>
internal sealed class PriceComputing(LaneWork work) : LaneComputing<PriceDocument>(work)
{
    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) =>
        new PriceDocument(new PriceRule { PriceList = sides.Source.PricedBy is [var first, ..] ? first : null });

    /// <inheritdoc/>
    public override IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides)
    {
        var rule = ((PriceDocument)document).Rule;
        var lists = new[] { rule.PriceList, rule.CompareAtList }.Concat(rule.FallbackLists).Concat(rule.Groups.Select(g => g.PriceList));
        var here = lists.OfType<string>().Distinct(StringComparer.Ordinal).Select(sides.Source.PriceOf);
        var there = rule.Groups.Select(g => sides.Target.Find(FieldRole.Price, g.Group)).Append(PriceComputation.Target(rule, sides));
        return
        [
            .. here.OfType<FieldDescription>().Select(f => new FieldUse(OfSource: true, RecordKind.Item, f.Name)),
            .. there.OfType<FieldDescription>().Select(f => new FieldUse(OfSource: false, RecordKind.Item, f.Name)),
        ];
    }

    /// <inheritdoc/>
    public override Reason? Unfit(LaneSides sides) =>
        sides.Target.RegularPrice is null ? NoField.With(sides.TargetName, FieldRole.Price) : null;

    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(PriceDocument document, LaneSides sides, IReadOnlyCollection<string> locations)
    {
        var found = PriceRuleCheck.Check(document.Rule, sides.Source.PricedBy, sides.Target.PriceLists);
        return PriceComputation.NeedsTaxRate(document.Rule) && PriceComputation.TaxRates(sides) is null
            ?
            [
                .. found,
                new RuleFault(
                    "tax",
                    Severity.Refuse,
                    $"Net and gross differ by the tax rate, and neither {sides.SourceName} nor {sides.TargetName} says it of an item."
                ),
            ]
            : found;
    }

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(PriceDocument document, LaneSides sides, DateTimeOffset at) =>
        PriceComputation.Target(document.Rule, sides) is null
            ? NoField.With(sides.TargetName, FieldRole.Price)
            : new PriceComputation(document.Rule, sides, at);

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, PriceDocument trial, GuardLimits guards, string? focus) =>
        new ValueTally(Work, guards);
}

/// <summary>What such a lane writes.</summary>
internal sealed class PriceWriting(LaneWork work) : LaneWriting(work)
{
    /// <inheritdoc/>
    public override bool WritesSource => false;

    /// <inheritdoc/>
    public override bool GivesFirstValues => true;
}
