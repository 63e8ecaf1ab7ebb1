using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Lanes;

/// <summary>One record kind flowing one way between two systems.</summary>
public sealed class Lane
{
    /// <summary>A short name for addresses, e.g. <c>prices-web-shop</c>.</summary>
    public required string Id { get; set; }

    /// <summary>What people call it; null: what it does.</summary>
    public string? Name { get; set; }

    /// <summary>The code of what it does, e.g. <c>price</c>.</summary>
    public required string Kind { get; set; }

    public required string SourceId { get; set; }

    public required string TargetId { get; set; }

    /// <summary>Only items whose SKU starts with this; null: all.</summary>
    public string? SkuStartsWith { get; set; }

    /// <summary>Only listings that buyers can see.</summary>
    public bool PublishedOnly { get; set; }

    /// <summary>The version of the rule in force.</summary>
    public int RuleNumber { get; set; }

    /// <summary>Minutes between runs, from before there were jobs; the next start makes a job of it. Null: nothing is left of it.</summary>
    public int? EveryMinutes { get; set; }

    /// <summary>Whether its job leaves it out, until a person takes it in again.</summary>
    public bool Paused { get; set; }

    /// <summary>Whether nothing of this kind is to flow at all; a lane that is off can be previewed and never sends.</summary>
    public bool Off { get; set; }

    /// <summary>Since when nothing is sent, because somebody is pairing; null: the lane is open.</summary>
    public DateTimeOffset? ClosedAt { get; set; }

    public string? ClosedBy { get; set; }

    /// <summary>The last run that compared both sides.</summary>
    public long? ComparedRunId { get; set; }

    public DateTimeOffset? ComparedAt { get; set; }

    /// <summary>When somebody removed it; what it did stays readable. Null: it is there.</summary>
    public DateTimeOffset? RemovedAt { get; set; }
}

/// <summary>How <see cref="Lane"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class LaneStored : IEntityTypeConfiguration<Lane>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Lane> e)
    {
        e.HasQueryFilter(l => l.RemovedAt == null);
    }
}

/// <summary>A saved version of a lane's rule.</summary>
public sealed class RuleVersion
{
    public required string LaneId { get; set; }

    public required int Number { get; set; }

    /// <summary>The lane's document, JSON: its kind and the rule or map.</summary>
    public required string Document { get; set; }

    /// <summary>The guards' limits, JSON; null: the usual ones.</summary>
    public string? Guards { get; set; }

    public required string Author { get; set; }

    public required DateTimeOffset At { get; set; }

    public string? Note { get; set; }

    /// <summary>The act of the mismatch desk that it is a part of; null: none.</summary>
    public long? DeskActId { get; set; }
}

/// <summary>How <see cref="RuleVersion"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class RuleVersionStored : IEntityTypeConfiguration<RuleVersion>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<RuleVersion> e)
    {
        e.HasKey(v => new { v.LaneId, v.Number });
        e.HasIndex(v => v.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
    }
}

/// <summary>A lane's document while somebody edits it: kept until it is saved as a version or thrown away.</summary>
public sealed class LaneDraft
{
    public required string LaneId { get; set; }

    /// <summary>Whose it is.</summary>
    public required string Person { get; set; }

    /// <summary>The version that it was begun on.</summary>
    public int BaseNumber { get; set; }

    /// <summary>The lane's document, JSON.</summary>
    public required string Document { get; set; }

    /// <summary>The guards' limits, JSON.</summary>
    public string? Guards { get; set; }

    public string? Note { get; set; }

    public required DateTimeOffset At { get; set; }

    /// <summary>The window that changed it last, as that window calls itself.</summary>
    public required string Window { get; set; }

    /// <summary>When it was thrown away; it can be brought back until another is begun. Null: it was not.</summary>
    public DateTimeOffset? ThrownAt { get; set; }
}

/// <summary>How <see cref="LaneDraft"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class LaneDraftStored : IEntityTypeConfiguration<LaneDraft>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<LaneDraft> e)
    {
        e.HasKey(d => new { d.LaneId, d.Person });
    }
}

/// <summary>
/// What a record's field held when its system and another last agreed on it: what was sent and confirmed, or found to be the same.
/// It belongs to the pair of records and not to a lane, so that two lanes over one pair know of each other's writes.
/// </summary>
public sealed class Agreed
{
    /// <summary>The system that has the field.</summary>
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    /// <summary>The record that has the field.</summary>
    public required string Key { get; set; }

    /// <summary>The other system.</summary>
    public required string WithId { get; set; }

    /// <summary>The other system's record.</summary>
    public required string WithKey { get; set; }

    public required string Field { get; set; }

    public string? Value { get; set; }

    /// <summary>What the value came from: for stock the source's basis, for a listing that its item took away the word for it.</summary>
    public string? Source { get; set; }

    public required DateTimeOffset At { get; set; }
}

/// <summary>How <see cref="Agreed"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class AgreedStored : IEntityTypeConfiguration<Agreed>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Agreed> e)
    {
        e.HasKey(a => new
        {
            a.SystemId,
            a.Kind,
            a.WithId,
            a.Key,
            a.WithKey,
            a.Field,
        });
    }
}

/// <summary>A record of the source that a lane leaves alone.</summary>
public sealed class KeptOff
{
    public required string LaneId { get; set; }

    public required string SourceKey { get; set; }
}

/// <summary>How <see cref="KeptOff"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class KeptOffStored : IEntityTypeConfiguration<KeptOff>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<KeptOff> e)
    {
        e.HasKey(k => new { k.LaneId, k.SourceKey });
    }
}
