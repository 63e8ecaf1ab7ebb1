using Narbit.Core.Timetables;
using Narbit.Data.Runs;

namespace Narbit.Data.Jobs;

/// <summary>A time of a job and what it came to, or a turn that something else began.</summary>
public sealed class JobTurn
{
    public long Id { get; set; }

    public required string JobId { get; set; }

    /// <summary>When it was due, the first time of several; or when it was asked for.</summary>
    public DateTimeOffset DueAt { get; set; }

    /// <summary>The last time that it stands for.</summary>
    public DateTimeOffset DueUntil { get; set; }

    /// <summary>For how many times of the timetable it stands.</summary>
    public int Times { get; set; } = 1;

    public RunTrigger Trigger { get; set; }

    public required string StartedBy { get; set; }

    /// <summary>What the time came to.</summary>
    public DueFate Fate { get; set; }

    public TurnState State { get; set; }

    public DateTimeOffset? StartedAt { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>For a turn that something brought about: the records that it is about, JSON; null: all of them.</summary>
    public string? Scope { get; set; }

    /// <summary>The jobs whose writes brought it about, between spaces, so that none is told of its own news.</summary>
    public string Chain { get; set; } = "";

    public List<TurnStep> Steps { get; set; } = [];
}
