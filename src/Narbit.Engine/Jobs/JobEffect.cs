namespace Narbit.Engine.Jobs;

/// <summary>What a job or an act comes to, before it counts.</summary>
public sealed record JobEffect
{
    /// <summary>So many times are shown.</summary>
    public const int Shown = 5;

    /// <summary>What follows, in words.</summary>
    public required string Words { get; init; }

    /// <summary>The zone by whose clock the times are told; null: there is no timetable.</summary>
    public string? Zone { get; init; }

    /// <summary>The next times, five at most.</summary>
    public required IReadOnlyList<DateTimeOffset> Next { get; init; }

    /// <summary>What a person might not expect of the timetable, a sentence each.</summary>
    public required IReadOnlyList<string> Surprises { get; init; }

    /// <summary>What it takes from each system's limit.</summary>
    public required IReadOnlyList<SystemRequests> Requests { get; init; }
}
