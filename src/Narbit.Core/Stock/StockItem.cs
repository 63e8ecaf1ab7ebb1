using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>What a stock rule needs to know about an item and its target.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record StockItem
{
    /// <summary>Whether the source counts this item at all.</summary>
    public bool Tracked { get; init; } = true;

    /// <summary>The item's stock by location.</summary>
    public IReadOnlyList<StockLevel> Levels { get; init; } = [];

    /// <summary>The components, where the item is a kit.</summary>
    public IReadOnlyList<KitPart> Kit { get; init; } = [];

    /// <summary>Whether the target has shown this listing before.</summary>
    public bool Published { get; init; } = true;

    /// <summary>The quantity the target has now.</summary>
    public decimal Target { get; init; }

    /// <summary>The source's basis when the target was last set; null: as now.</summary>
    public decimal? LastSource { get; init; }
}
