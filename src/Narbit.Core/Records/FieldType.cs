using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>The type of a field's values.</summary>
[JsonConverter(typeof(CamelCaseEnum<FieldType>))]
public enum FieldType
{
    /// <summary>Plain text.</summary>
    Text,

    /// <summary>HTML text.</summary>
    Html,

    /// <summary>A whole number.</summary>
    Integer,

    /// <summary>A decimal number.</summary>
    Decimal,

    /// <summary>An amount in the system's currency.</summary>
    Money,

    /// <summary>A percentage; 20 means 20 %.</summary>
    Percent,

    /// <summary>True or false.</summary>
    Boolean,

    /// <summary>A point in time, UTC.</summary>
    Instant,

    /// <summary>A code from a table of the system's.</summary>
    Code,

    /// <summary>A weight in kilograms.</summary>
    Weight,

    /// <summary>A calendar day, <c>yyyy-MM-dd</c>.</summary>
    Date,

    /// <summary>A length in millimetres.</summary>
    Length,

    /// <summary>Several texts in order; its canonical form is a JSON array of strings.</summary>
    List,

    /// <summary>The address of an image.</summary>
    Image,

    /// <summary>The key of another record of the same system.</summary>
    Reference,
}
