using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What becomes of a new variant that the target has of an item that both sides know.</summary>
[JsonConverter(typeof(CamelCaseEnum<NewThere>))]
public enum NewThere
{
    /// <summary>It waits at the pair desk.</summary>
    Wait,

    /// <summary>It is created at the source, beside its sisters.</summary>
    Follow,
}
