using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>Which quantity at a location counts.</summary>
[JsonConverter(typeof(CamelCaseEnum<StockBasis>))]
public enum StockBasis
{
    /// <summary>On hand less allocated.</summary>
    Available,

    /// <summary>On hand.</summary>
    OnHand,
}

/// <summary>How a target's quantity follows the offer.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReplenishKind>))]
public enum ReplenishKind
{
    /// <summary>It is the offer.</summary>
    Mirror,

    /// <summary>It grows by what the source gained.</summary>
    FollowIncrease,

    /// <summary>It is filled up when it has run low.</summary>
    TopUp,
}

/// <summary>A range of whole quantities, both ends included, that is raised or set.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record StockBand
{
    /// <summary>The lowest quantity; null: open.</summary>
    public decimal? From { get; init; }

    /// <summary>The highest quantity; null: open.</summary>
    public decimal? To { get; init; }

    /// <summary>What is added.</summary>
    public decimal? Add { get; init; }

    /// <summary>What the quantity is set to; counts before <see cref="Add"/>.</summary>
    public decimal? Set { get; init; }

    /// <summary>Whether the quantity lies in the band.</summary>
    public bool Holds(decimal quantity) => (From is null || From <= quantity) && (To is null || quantity <= To);
}

/// <summary>How a target's quantity follows the offer, with its limits in pieces.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record Replenish
{
    /// <summary>The kind.</summary>
    public ReplenishKind Kind { get; init; }

    /// <summary>Follow increase: the most the target grows to.</summary>
    public decimal? Limit { get; init; }

    /// <summary>Top up: act when the target has this many or fewer.</summary>
    public decimal? AtOrBelow { get; init; }

    /// <summary>Top up: fill to this many.</summary>
    public decimal? To { get; init; }
}

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

/// <summary>The stock of an item at one location, in pieces.</summary>
/// <param name="Location">The source's code for the location.</param>
/// <param name="OnHand">What lies there.</param>
/// <param name="Allocated">What of it is promised.</param>
/// <param name="Incoming">What is on its way.</param>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record StockLevel(string Location, decimal OnHand = 0, decimal Allocated = 0, decimal Incoming = 0);

/// <summary>A component of a kit.</summary>
/// <param name="Quantity">Pieces in one kit; above 0.</param>
/// <param name="Levels">The component's stock.</param>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record KitPart(decimal Quantity, IReadOnlyList<StockLevel>? Levels = null);

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

/// <summary>What a stock rule makes of an item, in pieces.</summary>
/// <param name="Quantity">What the target should have.</param>
/// <param name="Source">The source's basis, or null where the item is not tracked.</param>
/// <param name="Trace">A line for every step taken.</param>
public sealed record StockQuote(decimal Quantity, decimal? Source, IReadOnlyList<TraceStep> Trace);
