using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>Which quantity at a location counts.</summary>
[JsonConverter(typeof(CamelCaseEnum<StockBasis>))]
public enum StockBasis
{
    /// <summary>On hand less allocated.</summary>
    Available,

    /// <summary>On hand.</summary>
    OnHand,
}
