using System.Text.Json.Serialization;

namespace Narbit.Core.Timetables;

/// <summary>What a time came to.</summary>
[JsonConverter(typeof(CamelCaseEnum<DueFate>))]
public enum DueFate
{
    /// <summary>A turn begins.</summary>
    Run,

    /// <summary>Another time's turn does what this one would have done.</summary>
    Shared,

    /// <summary>A person said to leave it out.</summary>
    Skipped,

    /// <summary>The job was paused.</summary>
    Paused,

    /// <summary>It passed while nobody was there to keep it, and nothing makes up for it.</summary>
    Missed,

    /// <summary>The last turn was still at work.</summary>
    AtWork,
}
