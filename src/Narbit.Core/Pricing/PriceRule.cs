using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>What becomes of a live sale amount.</summary>
[JsonConverter(typeof(CamelCaseEnum<SaleMode>))]
public enum SaleMode
{
    /// <summary>Nothing: the regular amount is the price.</summary>
    Ignore,

    /// <summary>It becomes the price, when lower than the regular amount or when a higher one is allowed.</summary>
    Merge,

    /// <summary>It goes to the target as a sale price of its own.</summary>
    Carry,
}

/// <summary>Whether an amount contains tax.</summary>
[JsonConverter(typeof(CamelCaseEnum<TaxBasis>))]
public enum TaxBasis
{
    /// <summary>Without tax.</summary>
    Net,

    /// <summary>With tax.</summary>
    Gross,
}

/// <summary>How an amount is brought to a price that can be asked.</summary>
[JsonConverter(typeof(CamelCaseEnum<EndingKind>))]
public enum EndingKind
{
    /// <summary>Rounded to the currency's decimals.</summary>
    None,

    /// <summary>A multiple of a step.</summary>
    Step,

    /// <summary>A whole number plus one of the given endings.</summary>
    Charm,
}

/// <summary>Which way an ending may move an amount.</summary>
[JsonConverter(typeof(CamelCaseEnum<Direction>))]
public enum Direction
{
    /// <summary>To the nearest; ties go up.</summary>
    Nearest,

    /// <summary>Never below the amount.</summary>
    Up,

    /// <summary>Never above the amount, if there is such a candidate.</summary>
    Down,
}

/// <summary>How halves are rounded when there is no ending.</summary>
[JsonConverter(typeof(CamelCaseEnum<Rounding>))]
public enum Rounding
{
    /// <summary>Half away from zero.</summary>
    HalfUp,

    /// <summary>Half to even.</summary>
    HalfEven,
}

/// <summary>A range of amounts with its factor and surcharge.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record PriceBand
{
    /// <summary>The lowest amount in the band, in the source currency.</summary>
    public decimal From { get; init; }

    /// <summary>The first amount above the band; null: open.</summary>
    public decimal? To { get; init; }

    /// <summary>The factor; 1 leaves the amount as it is.</summary>
    public decimal Multiply { get; init; } = 1;

    /// <summary>What is added after multiplying, in the source currency.</summary>
    public decimal Add { get; init; }

    /// <summary>Whether the amount lies in the band: from ≤ amount &lt; to.</summary>
    public bool Holds(decimal amount) => From <= amount && (To is null || amount < To);

    internal string Span => To is { } to ? $"band {Numbers.Plain(From)} to {Numbers.Plain(to)}" : $"band from {Numbers.Plain(From)}";
}

/// <summary>Whether source and target amounts contain tax.</summary>
/// <param name="Source">The source's amounts.</param>
/// <param name="Target">The target's amounts.</param>
public sealed record TaxSides(TaxBasis Source = TaxBasis.Net, TaxBasis Target = TaxBasis.Net);

/// <summary>The last shape of a price.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record PriceEnding
{
    /// <summary>The kind of ending.</summary>
    public EndingKind Kind { get; init; }

    /// <summary>The step of <see cref="EndingKind.Step"/>; above 0, in the target currency.</summary>
    public decimal? Step { get; init; }

    /// <summary>The endings of <see cref="EndingKind.Charm"/>, e.g. 0.99.</summary>
    public IReadOnlyList<decimal> Endings { get; init; } = [];

    /// <summary>Which way to go.</summary>
    public Direction Direction { get; init; }
}

/// <summary>The policy by which a source's amounts become a target's prices. See <see cref="PriceCalculation.Price"/>.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record PriceRule
{
    /// <summary>The price list to take the amount from.</summary>
    public string? PriceList { get; init; }

    /// <summary>The lists to fall back on, in order.</summary>
    public IReadOnlyList<string> FallbackLists { get; init; } = [];

    /// <summary>What becomes of a live sale amount.</summary>
    public SaleMode Sale { get; init; }

    /// <summary>With <see cref="SaleMode.Merge"/>: take the sale amount even if it is higher.</summary>
    public bool AllowHigherSale { get; init; }

    /// <summary>The bands; the first that holds the amount counts.</summary>
    public IReadOnlyList<PriceBand> Bands { get; init; } = [];

    /// <summary>Target currency units for one unit of the source currency.</summary>
    public decimal CurrencyRate { get; init; } = 1;

    /// <summary>Net or gross on either side.</summary>
    public TaxSides Tax { get; init; } = new();

    /// <summary>The ending.</summary>
    public PriceEnding Ending { get; init; } = new();

    /// <summary>How halves are rounded where the ending is none.</summary>
    public Rounding Rounding { get; init; }

    /// <summary>The least margin in percent of the net selling price, 0 to below 100; null: no floor.</summary>
    public decimal? MinMargin { get; init; }

    /// <summary>The list whose amount is shown struck through at the target.</summary>
    public string? CompareAtList { get; init; }

    /// <summary>
    /// Further price lists, for groups of customers that the target keeps prices for. Each goes through the same steps, without fallback,
    /// sale or compare-at.
    /// </summary>
    public IReadOnlyList<GroupPriceList> Groups { get; init; } = [];

    /// <summary>For a target that keeps several price lists: the one that the price goes to; null: its regular price.</summary>
    public string? TargetList { get; init; }

    /// <summary>The rule by which a group's price comes about.</summary>
    /// <param name="group">The group.</param>
    public PriceRule For(GroupPriceList group) =>
        this with
        {
            PriceList = group.PriceList,
            FallbackLists = [],
            Sale = SaleMode.Ignore,
            CompareAtList = null,
            Groups = [],
        };
}

/// <summary>What a group of customers pays.</summary>
/// <param name="Group">The group, as the target names it.</param>
/// <param name="PriceList">The source's price list.</param>
public sealed record GroupPriceList(string Group, string PriceList);

/// <summary>An amount in one price list.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record ListedPrice
{
    /// <summary>The regular amount.</summary>
    public decimal? Amount { get; init; }

    /// <summary>The sale amount.</summary>
    public decimal? Sale { get; init; }

    /// <summary>The first instant of the sale; null: open.</summary>
    public DateTimeOffset? SaleFrom { get; init; }

    /// <summary>The first instant after the sale; null: open.</summary>
    public DateTimeOffset? SaleTo { get; init; }
}

/// <summary>What a price rule needs to know about an item.</summary>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString | JsonNumberHandling.WriteAsString)]
public sealed record PriceItem
{
    /// <summary>The amounts by price list.</summary>
    public IReadOnlyDictionary<string, ListedPrice> Prices { get; init; } = new Dictionary<string, ListedPrice>();

    /// <summary>The tax rate in percent.</summary>
    public decimal TaxRate { get; init; }

    /// <summary>The net cost in the source currency; null: unknown.</summary>
    public decimal? Cost { get; init; }

    /// <summary>The instant to compute for; decides which sales are live.</summary>
    public DateTimeOffset? At { get; init; }

    /// <summary>The target currency's digits after the point, 0 to 6.</summary>
    public int Decimals { get; init; } = 2;
}

/// <summary>How a computation ended.</summary>
[JsonConverter(typeof(CamelCaseEnum<PriceOutcome>))]
public enum PriceOutcome
{
    /// <summary>There is a price.</summary>
    Ok,

    /// <summary>None of the lists has a price for the item.</summary>
    NoPrice,

    /// <summary>There is a price, but the carried sale price did not end up below it and was dropped.</summary>
    SaleNotLower,
}

/// <summary>What a price rule makes of an item: amounts in the target currency with at least its decimals.</summary>
/// <param name="Price">The price, or null.</param>
/// <param name="SalePrice">The carried sale price, or null.</param>
/// <param name="CompareAt">The price to strike through, or null.</param>
/// <param name="Outcome">How it ended.</param>
/// <param name="Trace">A line for every step.</param>
[JsonNumberHandling(JsonNumberHandling.WriteAsString)]
public sealed record PriceQuote(
    decimal? Price,
    decimal? SalePrice,
    decimal? CompareAt,
    PriceOutcome Outcome,
    IReadOnlyList<TraceStep> Trace
)
{
    /// <summary>The price list that the amount was picked from; null: none has one.</summary>
    [JsonIgnore]
    public string? PickedFrom { get; init; }

    /// <summary>The amount that was picked, in the source currency.</summary>
    [JsonIgnore]
    public decimal? Picked { get; init; }
}
