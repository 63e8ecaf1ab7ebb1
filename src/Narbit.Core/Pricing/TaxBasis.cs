using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>Whether an amount contains tax.</summary>
[JsonConverter(typeof(CamelCaseEnum<TaxBasis>))]
public enum TaxBasis
{
    /// <summary>Without tax.</summary>
    Net,

    /// <summary>With tax.</summary>
    Gross,
}
