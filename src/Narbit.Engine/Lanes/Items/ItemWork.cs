using System.Text.Json.Serialization;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Engine.Lanes.Maps;

namespace Narbit.Engine.Lanes.Items;

/// <summary>A field map with its crosswalks as a lane's document.</summary>
/// <param name="Map">The map.</param>
public sealed record ItemDocument(FieldMap Map) : LaneDocument
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override FieldMap? Mapped => Map;

    /// <inheritdoc/>
    public override LaneDocument WithMap(FieldMap map) => new ItemDocument(map);
}

/// <summary>Items with their texts, images, categories and codes, by a field map.</summary>
internal sealed class ItemWork : MapWork
{
    /// <summary>The kind's code.</summary>
    public const string Code = "item";

    /// <inheritdoc/>
    public override string Kind => Code;

    /// <inheritdoc/>
    public override int PlaceInJob => 2;

    /// <inheritdoc/>
    public override string Label => "Items";

    /// <inheritdoc/>
    public override Noun Noun { get; } = new("item", "items");

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
    public override LaneReading Reading => field ??= new ItemReading(this);

    /// <inheritdoc/>
    public override LaneComputing Computing => field ??= new ItemComputing(this);
}

/// <summary>What such a lane reads, and what concerns it.</summary>
internal sealed class ItemReading(LaneWork work) : MapReading(work)
{
    /// <inheritdoc/>
    public override IReadOnlyList<LaneRead> Reads(OpenLane lane) =>
        [
            new(lane.Source.System.Id, RecordKind.Item),
            .. lane.Sides.Levels is null ? (LaneRead[])[] : [new(lane.Source.System.Id, RecordKind.StockLevel)],
            new(lane.Target.System.Id, RecordKind.Item),
        ];
}

/// <summary>How such a lane computes.</summary>
internal sealed class ItemComputing(LaneWork work) : MapComputing<ItemDocument>(work)
{
    /// <inheritdoc/>
    public override LaneDocument Blank(LaneSides sides) => new ItemDocument(new FieldMap());
}
