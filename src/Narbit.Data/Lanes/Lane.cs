using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

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

/// <summary>How <see cref="LaneDraft"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class LaneDraftStored : IEntityTypeConfiguration<LaneDraft>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<LaneDraft> e)
    {
        e.HasKey(d => new { d.LaneId, d.Person });
    }
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

/// <summary>How <see cref="KeptOff"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class KeptOffStored : IEntityTypeConfiguration<KeptOff>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<KeptOff> e)
    {
        e.HasKey(k => new { k.LaneId, k.SourceKey });
    }
}
