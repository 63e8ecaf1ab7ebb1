using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What a step's parameter is.</summary>
[JsonConverter(typeof(CamelCaseEnum<ParameterKind>))]
public enum ParameterKind
{
    /// <summary>Any text, spaces included.</summary>
    Text,

    /// <summary>A whole number.</summary>
    Whole,

    /// <summary>A decimal number, with a point.</summary>
    Number,

    /// <summary>One of the given choices.</summary>
    Choice,

    /// <summary>A regular expression (.NET's).</summary>
    Pattern,

    /// <summary>The name of a field of the source.</summary>
    Field,

    /// <summary>The name of a crosswalk of the lane.</summary>
    Crosswalk,

    /// <summary>A language and region, e.g. <c>de-DE</c>.</summary>
    Locale,

    /// <summary>A time zone by its IANA name.</summary>
    Zone,

    /// <summary>An expression over field names.</summary>
    Expression,
}
