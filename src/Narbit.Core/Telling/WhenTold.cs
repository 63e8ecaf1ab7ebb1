using System.Text.Json.Serialization;

namespace Narbit.Core.Telling;

/// <summary>When somebody wants to be told of what does some harm.</summary>
[JsonConverter(typeof(CamelCaseEnum<WhenTold>))]
public enum WhenTold
{
    /// <summary>At once, many in one message.</summary>
    AtOnce,

    /// <summary>Once a day, with all that is open.</summary>
    Daily,

    /// <summary>Not at all.</summary>
    Never,
}
