using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Narbit.Data.Runs;

/// <summary>One execution of a lane.</summary>
public sealed class Run
{
    public long Id { get; set; }

    public required string LaneId { get; set; }

    /// <summary>Whether the run stops once its change set is stored.</summary>
    public bool Preview { get; set; }

    public RunTrigger Trigger { get; set; }

    public required string StartedBy { get; set; }

    public RunState State { get; set; }

    public RunPhase Phase { get; set; }

    public int RuleNumber { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    /// <summary>When the change set was stored.</summary>
    public DateTimeOffset? PlannedAt { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    public int Paired { get; set; }

    public int InStep { get; set; }

    /// <summary>Records that could not be computed; each has a <see cref="RunRemark"/>.</summary>
    public int Remarked { get; set; }

    /// <summary>What stopped the run, or who decided that nothing is sent.</summary>
    public KeptReason? Why { get; set; }

    /// <summary>The guards that were tripped, JSON; null: none was, or a person let the run go on.</summary>
    public string? Tripped { get; set; }

    /// <summary>
    /// What its change set was computed by, without the records: the version, the scope, the pairs; null: it is not known.
    /// </summary>
    public string? Basis { get; set; }

    /// <summary>How long it was at work, without the time in which it waited for a person; in milliseconds.</summary>
    public long WorkedMs { get; set; }

    /// <summary>Requests that were sent, each attempt counted.</summary>
    public int Requests { get; set; }

    /// <summary>Those of them that repeat an earlier one.</summary>
    public int Repeats { get; set; }

    /// <summary>Those of them that had no answer.</summary>
    public int Lost { get; set; }

    /// <summary>How long it waited for answers that never came; in milliseconds.</summary>
    public long LostWaitedMs { get; set; }

    /// <summary>How long it waited because a system takes only so many requests; in milliseconds.</summary>
    public long LimitWaitedMs { get; set; }

    /// <summary>How long it waited before repeating what had failed; in milliseconds.</summary>
    public long RepeatWaitedMs { get; set; }

    /// <summary>The run that this one takes back; null: it is an ordinary one.</summary>
    public long? RollsBack { get; set; }

    /// <summary>The turn of a job that it belongs to; null: none.</summary>
    public long? TurnId { get; set; }

    /// <summary>The only fields of the target that it writes, JSON; null: all that its lane writes.</summary>
    public string? Fields { get; set; }

    /// <summary>For a small run: the keys of the source's records that it looks at, JSON; null: all of them.</summary>
    public string? Only { get; set; }

    /// <summary>How many of its requests went to which system, by its mark, JSON; null: none did.</summary>
    public string? RequestsBySystem { get; set; }

    /// <summary>For a run that takes another back: the writes of it that were chosen, JSON; null: all of them.</summary>
    public string? Chosen { get; set; }
}

/// <summary>How <see cref="Run"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunStored : IEntityTypeConfiguration<Run>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Run> e)
    {
        e.HasIndex(r => r.StartedAt);
        e.HasIndex(r => new { r.LaneId, r.StartedAt });
        // One lane never runs twice at once: the database says no, whoever asks.
        e.HasIndex(r => r.LaneId).HasFilter("\"State\" = 'Working'").IsUnique();
        e.OwnsOne(r => r.Why);
    }
}

/// <summary>How <see cref="PlannedWrite"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PlannedWriteStored : IEntityTypeConfiguration<PlannedWrite>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PlannedWrite> e)
    {
        // A page of a run is found, and all its counts are made, without its writes being read: there may be hundreds of thousands.
        e.HasIndex(w => w.RunId);
        e.HasIndex(w => new
        {
            w.RunId,
            w.State,
            w.Kind,
        });
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Guarded").HasFilter("\"Guards\" <> ''");
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_Fated").HasFilter("\"Fate_Code\" IS NOT NULL");
        e.HasIndex(w => new { w.SentAt, w.State }).HasFilter("\"SentAt\" IS NOT NULL");
        e.HasIndex(w => new { w.RunId, w.State }, "IX_Writes_TakenBack").HasFilter("\"TakenBackIn\" IS NOT NULL");
        e.HasIndex(w => new { w.RunId, w.Reference });
        e.HasIndex(w => w.TargetKey);
        // A creation has the same key in every run of its lane until it is settled.
        e.HasIndex(w => w.IdempotencyKey);
        e.HasIndex(w => w.SourceKey).HasFilter("\"Act\" = 'Create'");
        // What nobody knows the fate of is found whatever else was ever written.
        e.HasIndex(w => w.RunId, "IX_Writes_Open").HasFilter("\"State\" IN ('Unknown', 'Sent')");
        e.HasMany(w => w.Fields).WithOne().HasForeignKey(f => f.WriteId);
        e.OwnsOne(w => w.Hold);
        e.OwnsOne(w => w.Fate);
    }
}

/// <summary>How <see cref="WriteTry"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class WriteTryStored : IEntityTypeConfiguration<WriteTry>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<WriteTry> e)
    {
        e.HasIndex(t => t.WriteId);
        e.OwnsOne(t => t.Why);
        e.Navigation(t => t.Why).IsRequired();
    }
}

/// <summary>How <see cref="RunTrouble"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunTroubleStored : IEntityTypeConfiguration<RunTrouble>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<RunTrouble> e)
    {
        e.HasIndex(t => t.RunId);
        e.OwnsOne(t => t.Why);
        e.Navigation(t => t.Why).IsRequired();
    }
}

/// <summary>How <see cref="PlannedField"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PlannedFieldStored : IEntityTypeConfiguration<PlannedField>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PlannedField> e)
    {
        e.HasKey(f => new { f.WriteId, f.Field });
    }
}

/// <summary>How <see cref="RunRemark"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RunRemarkStored : IEntityTypeConfiguration<RunRemark>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<RunRemark> e)
    {
        e.HasIndex(r => r.RunId);
        e.OwnsOne(r => r.Why);
        e.Navigation(r => r.Why).IsRequired();
    }
}
