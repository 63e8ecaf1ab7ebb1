using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>
/// The policy by which a source's stock becomes a target's quantity. See <see cref="StockCalculation.Quantity"/>. Quantities are pieces.
/// </summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record StockRule
{
    /// <summary>Which quantity counts.</summary>
    public StockBasis Basis { get; init; }

    /// <summary>The locations that count; empty: all.</summary>
    public IReadOnlyList<string> Locations { get; init; } = [];

    /// <summary>Whether goods on their way in count.</summary>
    public bool IncludeIncoming { get; init; }

    /// <summary>The quantity of an item that is not tracked.</summary>
    public decimal Untracked { get; init; } = 1;

    /// <summary>The bands; the first that holds the quantity counts.</summary>
    public IReadOnlyList<StockBand> Bands { get; init; } = [];

    /// <summary>The target's share in percent, 0 to 100; null: all.</summary>
    public decimal? Share { get; init; }

    /// <summary>How many stay back for others.</summary>
    public decimal HoldBack { get; init; }

    /// <summary>Below this, nothing is offered.</summary>
    public decimal? ZeroBelow { get; init; }

    /// <summary>The most that is offered.</summary>
    public decimal? Cap { get; init; }

    /// <summary>Whether a negative quantity may be offered.</summary>
    public bool AllowNegative { get; init; }

    /// <summary>The most that a listing starts with.</summary>
    public decimal? FirstPublish { get; init; }

    /// <summary>How the target follows the offer.</summary>
    public Replenish Replenish { get; init; } = new();
}
