using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>Whose value a field holds.</summary>
[JsonConverter(typeof(CamelCaseEnum<Owner>))]
public enum Owner
{
    /// <summary>The source: what is changed at the target is written over.</summary>
    Source,

    /// <summary>The target: the field is never sent, and flows back where it may.</summary>
    Target,

    /// <summary>The source until the record is published; the target from then on.</summary>
    FirstPublication,

    /// <summary>
    /// Nobody: a change moves from where it was made to the other side, and <see cref="FieldMapping.Conflict"/> says what becomes of two.
    /// </summary>
    Nobody,
}
