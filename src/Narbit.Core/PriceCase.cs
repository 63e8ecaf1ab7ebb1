using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.RegularExpressions;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Core.Stock;

namespace Narbit.Core;

/// <summary>One line of a case file for prices.</summary>
/// <param name="Rule">The rule.</param>
/// <param name="Item">The item.</param>
/// <param name="Expect">Left unread; there so that case files can carry it.</param>
public sealed record PriceCase(PriceRule? Rule, PriceItem? Item, JsonElement? Expect = null);
