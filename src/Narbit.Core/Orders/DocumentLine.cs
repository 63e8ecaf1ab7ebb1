using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>A line of a document of the hub.</summary>
public sealed record DocumentLine
{
    /// <summary>What it is.</summary>
    public required DocumentLineKind Kind { get; init; }

    /// <summary>The hub's item code; null: none is known.</summary>
    public string? Item { get; init; }

    /// <summary>The order's line that it comes from; null: none.</summary>
    public string? Line { get; init; }

    /// <summary>How many.</summary>
    public long Quantity { get; init; }

    /// <summary>The price of one, to four digits; null in a credit note.</summary>
    [JsonConverter(typeof(PlainDecimal)), JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public decimal? UnitPrice { get; init; }

    /// <summary>Net.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Net { get; init; }

    /// <summary>Tax.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Tax { get; init; }

    /// <summary>Gross.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal Gross { get; init; }

    /// <summary>In percent.</summary>
    [JsonConverter(typeof(PlainDecimal))]
    public decimal TaxRate { get; init; }
}
