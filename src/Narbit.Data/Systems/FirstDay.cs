using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Systems;

/// <summary>The day on which weeks begin.</summary>
[JsonConverter(typeof(CamelCaseEnum<FirstDay>))]
public enum FirstDay
{
    /// <summary>As ISO 8601 has it.</summary>
    Monday,

    /// <summary>As in much of the Near East.</summary>
    Saturday,

    /// <summary>As in much of America.</summary>
    Sunday,
}
