using System.Text.Json.Serialization;

namespace Narbit.Core.Timetables;

/// <summary>What becomes of times that passed while nobody could keep them.</summary>
[JsonConverter(typeof(CamelCaseEnum<WhenMissed>))]
public enum WhenMissed
{
    /// <summary>One turn makes up for all of them.</summary>
    Once,

    /// <summary>The next time is waited for.</summary>
    None,
}
