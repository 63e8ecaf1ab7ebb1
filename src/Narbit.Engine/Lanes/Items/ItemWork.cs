using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;

namespace Narbit.Engine.Lanes.Items;

/// <summary>A field map with its crosswalks as a lane's document.</summary>
/// <param name="Map">The map.</param>
public sealed record ItemDocument(FieldMap Map) : LaneDocument;

/// <summary>Items with their texts, images, categories and codes, by a field map.</summary>
public sealed class ItemWork : LaneWork<ItemDocument>
{
    /// <inheritdoc/>
    public override string Kind => "item";

    /// <inheritdoc/>
    public override string Label => "Items";

    /// <inheritdoc/>
    public override string Part => "map";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("item", "items");

    /// <inheritdoc/>
    public override IReadOnlyList<LaneStep> Steps { get; } =
    [
        LaneStep.Scope,
        LaneStep.Pairs,
        new("map", "Field map"),
        new("crosswalks", "Crosswalks"),
        LaneStep.Guards,
        LaneStep.Preview,
        LaneStep.Timetable,
        LaneStep.Runs,
        LaneStep.Versions,
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<WatchedLimit> Limits { get; } =
    [
        WatchedLimit.ChangedShare,
        new("priceMove", "A first price differs by more than", "%"),
        WatchedLimit.BelowCost,
        WatchedLimit.MinMargin,
        WatchedLimit.ZeroPrice,
        new("emptiedTexts", "More texts are emptied than", "records"),
        new("removed", "More listings are hidden or ended than", "records"),
        WatchedLimit.FailingTimes,
    ];

    /// <inheritdoc/>
    public override IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides)
    {
        var map = ((ItemDocument)document).Map;
        return
        [
            .. map.Fields.SelectMany(f => f.Source.Fields ?? []).Distinct().Select(f => new FieldUse(OfSource: true, RecordKind.Item, f)),
            .. map.Fields.Select(f => new FieldUse(OfSource: false, RecordKind.Item, f.Target)),
        ];
    }

    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) => new ItemDocument(new FieldMap());

    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [
            new(lane.Source.System.Id, RecordKind.Item),
            .. lane.Sides.Levels is null ? (LaneRead[])[] : [new(lane.Source.System.Id, RecordKind.StockLevel)],
            new(lane.Target.System.Id, RecordKind.Item),
        ];

    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) => ItemPairs.ReadAsync(lane, database, [.. documents.OfType<ItemDocument>().Select(d => d.Map)], only, cancel);

    /// <inheritdoc/>
    public override IEnumerable<string> Returns(LaneDocument document, string sourceField) =>
        ((ItemDocument)document)
            .Map.Fields.Where(f => f.Flow != Flow.ToTarget && f.Source.Fields is [var one] && one == sourceField)
            .Select(f => f.Target);

    /// <inheritdoc/>
    protected override IReadOnlyList<RuleFault> Check(ItemDocument document, LaneSides sides, IReadOnlyCollection<string> locations)
    {
        ReadyMap.Make(document.Map, sides.Map, out var faults);
        return faults;
    }

    /// <inheritdoc/>
    protected override Outcome<LaneComputation> Computation(ItemDocument document, LaneSides sides, DateTimeOffset at) =>
        ReadyMap.Make(document.Map, sides.Map, out var faults) is { } ready
            ? new ItemComputation(ready, sides)
            : new Reason(
                "map.broken",
                "The field map no longer fits its systems, so nothing is sent: "
                    + $"{string.Join("; ", faults.Where(f => f.Severity == Severity.Refuse).Select(f => f.Message))}."
            );

    /// <inheritdoc/>
    protected override TrialTally Tally(OpenLane lane, ItemDocument trial, GuardLimits guards, string? focus) =>
        new MapTally(lane, trial.Map, guards, focus);
}
