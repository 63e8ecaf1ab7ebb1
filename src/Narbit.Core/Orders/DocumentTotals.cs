using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Sums of a document.</summary>
/// <param name="Net">Net.</param>
/// <param name="Tax">Tax.</param>
/// <param name="Gross">Gross.</param>
public sealed record DocumentTotals(
    [property: JsonConverter(typeof(PlainDecimal))] decimal Net,
    [property: JsonConverter(typeof(PlainDecimal))] decimal Tax,
    [property: JsonConverter(typeof(PlainDecimal))] decimal Gross
);
