using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Whether tax is rounded line by line or rate by rate.</summary>
[JsonConverter(typeof(CamelCaseEnum<TaxRounding>))]
public enum TaxRounding
{
    /// <summary>Line by line.</summary>
    Line,

    /// <summary>All lines of one rate together.</summary>
    Rate,
}
