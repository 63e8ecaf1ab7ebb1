using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Jobs;

/// <summary>What a person can do with a job in hand.</summary>
[JsonConverter(typeof(CamelCaseEnum<JobActKind>))]
public enum JobActKind
{
    /// <summary>A turn begins now, and the plan stays as it is.</summary>
    RunNow,

    /// <summary>The next times are left out.</summary>
    Skip,

    /// <summary>It does nothing by itself until a time, or until further notice.</summary>
    Pause,

    /// <summary>It goes on, and nothing is left out.</summary>
    GoOn,

    /// <summary>It does nothing by itself any more.</summary>
    SwitchOff,

    /// <summary>It goes by its timetable again.</summary>
    SwitchOn,

    /// <summary>Lists show it first.</summary>
    KeepOnTop,

    /// <summary>Lists show it in its place.</summary>
    LetDown,

    /// <summary>What it says of how it came to be was read.</summary>
    Read,
}
