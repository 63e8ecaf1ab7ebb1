using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

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
