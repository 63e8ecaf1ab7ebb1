using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

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
