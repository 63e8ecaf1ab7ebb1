using System.Text.Json;

namespace Narbit.Core.Stock;

/// <summary>One line of a case file for stock.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Item">The item.</param>
/// <param name="Expect">Left unread; there so that case files can carry it.</param>
public sealed record StockCase(StockRule? Rule, StockItem? Item, JsonElement? Expect = null);
