using System.Text.Json;

namespace Narbit.Core.Pricing;

/// <summary>One line of a case file for prices.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Item">The item.</param>
/// <param name="Expect">Left unread; there so that case files can carry it.</param>
public sealed record PriceCase(PriceRule? Rule, PriceItem? Item, JsonElement? Expect = null);
