using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data.Runs;

namespace Narbit.Data.Jobs;

/// <summary>What becomes of a turn in which a lane fails.</summary>
[JsonConverter(typeof(CamelCaseEnum<WhenFailed>))]
public enum WhenFailed
{
    /// <summary>The other lanes go on.</summary>
    GoOn,

    /// <summary>Lanes that have not begun stay where they are.</summary>
    Stop,

    /// <summary>The lane is tried again, and those that wait for it wait on.</summary>
    Again,
}

/// <summary>An ordered list of lanes with one timetable.</summary>
public sealed class Job
{
    /// <summary>A short name for addresses.</summary>
    public required string Id { get; set; }

    public required string Name { get; set; }

    /// <summary>When it begins by itself: a <see cref="Core.Timetables.Timetable"/> as JSON; null: not by the clock.</summary>
    public string? Timetable { get; set; }

    public WhenAtWork WhenAtWork { get; set; }

    public WhenMissed WhenMissed { get; set; }

    public WhenFailed WhenFailed { get; set; }

    /// <summary>Minutes before a lane that failed is tried again.</summary>
    public int AgainAfterMinutes { get; set; } = 5;

    /// <summary>How often a lane that failed is tried again.</summary>
    public int AgainTimes { get; set; } = 2;

    /// <summary>Whether it also begins at once when something happens that it is about.</summary>
    public bool AtOnce { get; set; }

    /// <summary>Seconds between looks at its sources' change lists for what nothing else tells of; null: nobody looks.</summary>
    public int? LookEverySeconds { get; set; }

    /// <summary>Whether it does nothing by itself.</summary>
    public bool Off { get; set; }

    /// <summary>Whether lists show it first.</summary>
    public bool OnTop { get; set; }

    /// <summary>Until when it is paused; the greatest instant: until further notice. Null: it is not.</summary>
    public DateTimeOffset? PausedUntil { get; set; }

    /// <summary>So many of its next times are left out.</summary>
    public int SkipNext { get; set; }

    /// <summary>Of all its times up to this instant it is noted what they came to.</summary>
    public DateTimeOffset SettledUntil { get; set; }

    /// <summary>When its next turn begins by the clock.</summary>
    public DateTimeOffset? NextDueAt { get; set; }

    /// <summary>What a person should know of how it came to be as it is, until they have read it.</summary>
    public KeptReason? Notice { get; set; }

    public DateTimeOffset? RemovedAt { get; set; }

    /// <summary>The lanes that it had when it was removed, JSON.</summary>
    public string? LanesBefore { get; set; }

    public List<JobLane> Lanes { get; set; } = [];
}

/// <summary>How <see cref="Job"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class JobStored : IEntityTypeConfiguration<Job>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Job> e)
    {
        e.OwnsOne(j => j.Notice);
        e.HasQueryFilter(j => j.RemovedAt == null);
        e.HasMany(j => j.Lanes).WithOne().HasForeignKey(l => l.JobId);
    }
}

/// <summary>A lane in a job.</summary>
public sealed class JobLane
{
    public string JobId { get; set; } = "";

    /// <summary>A lane is in one job at most.</summary>
    public required string LaneId { get; set; }

    /// <summary>Its place, from 0 on.</summary>
    public int Place { get; set; }

    /// <summary>The only fields of the target that the job's runs write, JSON; null: all that the lane writes.</summary>
    public string? Fields { get; set; }
}

/// <summary>How <see cref="JobLane"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class JobLaneStored : IEntityTypeConfiguration<JobLane>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<JobLane> e)
    {
        // A lane is in one job: the database says no.
        e.HasKey(l => l.LaneId);
        e.HasIndex(l => l.JobId);
    }
}

/// <summary>How a turn of a job stands.</summary>
[JsonConverter(typeof(CamelCaseEnum<TurnState>))]
public enum TurnState
{
    /// <summary>Its lanes are at work, or wait to be tried again.</summary>
    Working,

    /// <summary>It begins when the turn before it is over.</summary>
    Waiting,

    /// <summary>Its lanes have run.</summary>
    Done,

    /// <summary>A lane has failed.</summary>
    Failed,

    /// <summary>Nothing ran, for the reason that its fate says.</summary>
    NotRun,
}

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

/// <summary>How <see cref="JobTurn"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class JobTurnStored : IEntityTypeConfiguration<JobTurn>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<JobTurn> e)
    {
        e.HasIndex(t => new { t.JobId, t.DueAt });
        e.HasIndex(t => t.DueAt);
        e.HasIndex(t => t.JobId).HasFilter("\"State\" = 'Working'").IsUnique();
        e.HasIndex(t => t.JobId, "IX_Turns_Waiting").HasFilter("\"State\" = 'Waiting'").IsUnique();
        e.HasMany(t => t.Steps).WithOne().HasForeignKey(s => s.TurnId);
    }
}

/// <summary>How a lane stands in a turn.</summary>
[JsonConverter(typeof(CamelCaseEnum<TurnStepState>))]
public enum TurnStepState
{
    /// <summary>Its turn has not come.</summary>
    Waiting,

    /// <summary>Its run is at work.</summary>
    Working,

    /// <summary>Its run is over, or waits for a person.</summary>
    Done,

    /// <summary>Its run failed, or could not begin.</summary>
    Failed,

    /// <summary>It was left out.</summary>
    LeftOut,
}

/// <summary>A lane in a turn of a job.</summary>
public sealed class TurnStep
{
    public long TurnId { get; set; }

    public required string LaneId { get; set; }

    public int Place { get; set; }

    public TurnStepState State { get; set; }

    /// <summary>Its run, the newest where there were several.</summary>
    public long? RunId { get; set; }

    /// <summary>How often it was tried.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried again.</summary>
    public DateTimeOffset? AgainAt { get; set; }

    /// <summary>Why it failed or was left out.</summary>
    public KeptReason? Why { get; set; }
}

/// <summary>How <see cref="TurnStep"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class TurnStepStored : IEntityTypeConfiguration<TurnStep>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<TurnStep> e)
    {
        e.HasKey(s => new { s.TurnId, s.LaneId });
        e.HasIndex(s => s.RunId);
        e.OwnsOne(s => s.Why);
    }
}

/// <summary>A day on which no job begins by the clock.</summary>
public sealed class DayOff
{
    /// <summary>The local date, ISO 8601.</summary>
    public required string Date { get; set; }

    /// <summary>What it is, e.g. a holiday's name.</summary>
    public string? Name { get; set; }
}

/// <summary>How <see cref="DayOff"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class DayOffStored : IEntityTypeConfiguration<DayOff>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<DayOff> e)
    {
        e.HasKey(d => d.Date);
    }
}
