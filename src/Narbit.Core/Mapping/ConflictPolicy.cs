using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What becomes of a field that was changed on both sides since they last agreed.</summary>
[JsonConverter(typeof(CamelCaseEnum<ConflictPolicy>))]
public enum ConflictPolicy
{
    /// <summary>The record waits for a person.</summary>
    Ask,

    /// <summary>The source's value is taken.</summary>
    HereWins,

    /// <summary>The target's value is taken.</summary>
    ThereWins,

    /// <summary>The value of the record that was changed last is taken.</summary>
    NewestWins,
}
