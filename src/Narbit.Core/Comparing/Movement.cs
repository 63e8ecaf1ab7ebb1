using System.Text.Json.Serialization;

namespace Narbit.Core.Comparing;

/// <summary>What is to be done about a field of a pair.</summary>
[JsonConverter(typeof(CamelCaseEnum<Movement>))]
public enum Movement
{
    /// <summary>Nothing: both sides say the same.</summary>
    None,

    /// <summary>The source's value is sent to the target.</summary>
    Send,

    /// <summary>The target's value is taken back to the source.</summary>
    TakeBack,

    /// <summary>Both sides differ and that is how it stays.</summary>
    Leave,

    /// <summary>Both sides were changed; a person decides.</summary>
    Ask,
}
