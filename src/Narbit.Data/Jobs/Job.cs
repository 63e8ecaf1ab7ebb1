using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Timetables;
using Narbit.Data.Runs;

namespace Narbit.Data.Jobs;

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

/// <summary>How <see cref="DayOff"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class DayOffStored : IEntityTypeConfiguration<DayOff>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<DayOff> e)
    {
        e.HasKey(d => d.Date);
    }
}
