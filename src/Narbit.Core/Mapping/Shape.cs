using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What kind of value is in a chain between two steps.</summary>
[Flags]
[JsonConverter(typeof(CamelCaseEnum<Shape>))]
public enum Shape
{
    /// <summary>Plain text.</summary>
    Text = 1,

    /// <summary>HTML.</summary>
    Html = 2,

    /// <summary>A number.</summary>
    Number = 4,

    /// <summary>True or false.</summary>
    Truth = 8,

    /// <summary>A point in time.</summary>
    Instant = 16,

    /// <summary>A calendar day.</summary>
    Day = 32,

    /// <summary>Several texts in order.</summary>
    List = 64,
}
