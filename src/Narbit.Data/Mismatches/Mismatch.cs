using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Mismatches;

/// <summary>
/// A record that needs a person, for one cause. The same record and cause is one mismatch, whatever number of runs sees it; it keeps its
/// history when it goes and comes back.
/// </summary>
public sealed class Mismatch
{
    public long Id { get; set; }

    /// <summary>Its cause, see the core's <c>MismatchCauses</c>.</summary>
    public required string Cause { get; set; }

    /// <summary>The system that has the record.</summary>
    public required string SystemId { get; set; }

    public RecordKind Kind { get; set; }

    /// <summary>The record; empty: it is about the whole of <see cref="Scope"/>.</summary>
    public string Key { get; set; } = "";

    /// <summary>Within what the cause holds: a lane, a couple, a job; empty: wherever the record is.</summary>
    public string Scope { get; set; } = "";

    /// <summary>What was looked at when it was found, e.g. <c>lane:stock-web-shop</c>; when that no longer shows it, it is gone.</summary>
    public required string Origin { get; set; }

    /// <summary>The other side's system, where there is one.</summary>
    public string? OtherSystemId { get; set; }

    /// <summary>The other side's record, where it is known.</summary>
    public string? OtherKey { get; set; }

    public string? LaneId { get; set; }

    public long? CoupleId { get; set; }

    /// <summary>The run that saw it last, where one did.</summary>
    public long? RunId { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    /// <summary>What it is in words.</summary>
    public string? Caption { get; set; }

    /// <summary>What is the matter with this one.</summary>
    public required string Words { get; set; }

    /// <summary>What makes those of a cause alike, so that one way out is right for all: a code, a field; null: the cause.</summary>
    public string? Subject { get; set; }

    /// <summary>What else is known of the subject, e.g. the title that stands beside an unknown SKU.</summary>
    public string? Hint { get; set; }

    /// <summary>What would mend it, where that was found out already.</summary>
    public string? Proposal { get; set; }

    /// <summary>Why that would.</summary>
    public string? Because { get; set; }

    /// <summary>How many pieces it is about.</summary>
    public double? Pieces { get; set; }

    /// <summary>How much money it is about, in ten-thousandths of the currency, which SQLite can add up exactly.</summary>
    public long? Worth { get; set; }

    public string? Currency { get; set; }

    /// <summary>Since when it is so, as far as is known.</summary>
    public DateTimeOffset Since { get; set; }

    /// <summary>When it was seen for the first time of all.</summary>
    public DateTimeOffset FirstSeenAt { get; set; }

    /// <summary>When it was found, the last time of several if it came back.</summary>
    public DateTimeOffset OpenedAt { get; set; }

    /// <summary>When it was looked for and seen last.</summary>
    public DateTimeOffset SeenAt { get; set; }

    /// <summary>How often it was seen.</summary>
    public int Seen { get; set; }

    /// <summary>How often it came back after it was gone or settled.</summary>
    public int CameBack { get; set; }

    public MismatchState State { get; set; }

    /// <summary>For one put off: until when.</summary>
    public DateTimeOffset? Until { get; set; }

    /// <summary>Who has it; null: nobody yet.</summary>
    public string? Owner { get; set; }

    /// <summary>Who settled it; null: nobody did.</summary>
    public string? SettledBy { get; set; }

    /// <summary>When it was settled or gone.</summary>
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>What settled it; null: nothing did.</summary>
    public long? ActId { get; set; }
}

/// <summary>How <see cref="Mismatch"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MismatchStored : IEntityTypeConfiguration<Mismatch>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Mismatch> e)
    {
        // One record and cause is one mismatch, whoever finds it: the database says no.
        e.HasIndex(m => new
            {
                m.Cause,
                m.SystemId,
                m.Kind,
                m.Key,
                m.Scope,
            })
            .IsUnique();
        e.HasIndex(m => new { m.Origin, m.State });
        // What is new, and what is over, since somebody was here: counted from an index.
        e.HasIndex(m => new { m.State, m.FirstSeenAt });
        e.HasIndex(m => new { m.State, m.EndedAt });
        e.HasIndex(m => m.EndedAt).HasFilter("\"EndedAt\" IS NOT NULL");
        // What is new since somebody was told.
        e.HasIndex(m => new { m.OpenedAt, m.State });
        e.HasIndex(m => new { m.State, m.Until }).HasFilter("\"State\" = 'PutOff'");
        e.HasIndex(m => new { m.ActId }).HasFilter("\"ActId\" IS NOT NULL");
        e.HasIndex(m => new
        {
            m.LaneId,
            m.State,
            m.Cause,
            m.Key,
        });
        // A page of a cause, the oldest first.
        e.HasIndex(m => new
        {
            m.State,
            m.Cause,
            m.Since,
        });
        // All that is counted of a cause, in the order in which it is, so that half a million are counted without being read.
        e.HasIndex(m => new
        {
            m.State,
            m.Cause,
            m.SystemId,
            m.Currency,
            m.Worth,
            m.Pieces,
            m.Since,
            m.OtherSystemId,
            m.Kind,
            m.Owner,
        });
    }
}

/// <summary>How <see cref="MismatchAct"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MismatchActStored : IEntityTypeConfiguration<MismatchAct>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MismatchAct> e)
    {
        e.HasIndex(a => a.Learned).HasFilter("\"Learned\" = 1");
        e.HasIndex(a => a.At);
        e.HasIndex(a => a.By);
    }
}

/// <summary>How <see cref="ActOn"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ActOnStored : IEntityTypeConfiguration<ActOn>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ActOn> e)
    {
        e.HasKey(a => new { a.ActId, a.MismatchId });
        e.HasIndex(a => a.MismatchId);
    }
}

/// <summary>How <see cref="MismatchDay"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MismatchDayStored : IEntityTypeConfiguration<MismatchDay>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MismatchDay> e)
    {
        e.HasKey(d => new { d.Day, d.Cause });
        e.HasIndex(d => d.Cause);
    }
}
