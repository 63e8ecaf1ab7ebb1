using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

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
