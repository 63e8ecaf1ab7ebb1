using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>A component of a kit.</summary>
/// <param name="Quantity">Pieces in one kit; above 0.</param>
/// <param name="Levels">The component's stock.</param>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record KitPart(decimal Quantity, IReadOnlyList<StockLevel>? Levels = null);
