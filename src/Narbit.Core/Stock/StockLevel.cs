using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>The stock of an item at one location, in pieces.</summary>
/// <param name="Location">The source's code for the location.</param>
/// <param name="OnHand">What lies there.</param>
/// <param name="Allocated">What of it is promised.</param>
/// <param name="Incoming">What is on its way.</param>
[JsonNumberHandling(JsonNumberHandling.AllowReadingFromString)]
public sealed record StockLevel(string Location, decimal OnHand = 0, decimal Allocated = 0, decimal Incoming = 0);
