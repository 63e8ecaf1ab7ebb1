using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

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
