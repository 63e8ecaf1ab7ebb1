using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>How a value is looked at.</summary>
[JsonConverter(typeof(CamelCaseEnum<Test>))]
public enum Test
{
    /// <summary>The same, without regard to case; numbers by value.</summary>
    Equals,

    /// <summary>Not the same.</summary>
    NotEquals,

    /// <summary>Missing or empty.</summary>
    Empty,

    /// <summary>There.</summary>
    NotEmpty,

    /// <summary>A greater number, or a later instant.</summary>
    Greater,

    /// <summary>A smaller number, or an earlier instant.</summary>
    Less,

    /// <summary>Contains the text, without regard to case.</summary>
    Contains,

    /// <summary>One of several.</summary>
    OneOf,

    /// <summary>The branch itself or anything under it.</summary>
    Under,
}
