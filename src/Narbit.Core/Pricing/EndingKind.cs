using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>How an amount is brought to a price that can be asked.</summary>
[JsonConverter(typeof(CamelCaseEnum<EndingKind>))]
public enum EndingKind
{
    /// <summary>Rounded to the currency's decimals.</summary>
    None,

    /// <summary>A multiple of a step.</summary>
    Step,

    /// <summary>A whole number plus one of the given endings.</summary>
    Charm,
}
