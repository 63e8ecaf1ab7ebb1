using System.Text.Json.Serialization;

namespace Narbit.Core.Pricing;

/// <summary>How halves are rounded when there is no ending.</summary>
[JsonConverter(typeof(CamelCaseEnum<Rounding>))]
public enum Rounding
{
    /// <summary>Half away from zero.</summary>
    HalfUp,

    /// <summary>Half to even.</summary>
    HalfEven,
}
