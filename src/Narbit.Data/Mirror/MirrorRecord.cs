using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>A system's record as last read.</summary>
public sealed class MirrorRecord
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required string Key { get; set; }

    /// <summary>The record that it belongs to: a variant's product, a stock level's item.</summary>
    public string? Parent { get; set; }

    /// <summary>The code that sisters share, where the system has one.</summary>
    public string? Group { get; set; }

    /// <summary>What a person knows it by: an item's SKU, an order's number, a customer's account or mail address.</summary>
    public string? Reference { get; set; }

    /// <summary>What it is in words: an item's name with its option, a customer's name.</summary>
    public string? Caption { get; set; }

    /// <summary>XXH128 of <see cref="Raw"/>, the values and the children.</summary>
    public required byte[] Hash { get; set; }

    /// <summary>As the system sent it, JSON.</summary>
    public required string Raw { get; set; }

    /// <summary>The lists within it, JSON; null: it has none.</summary>
    public string? Children { get; set; }

    /// <summary>Canonical values by field name, JSON.</summary>
    public required string Values { get; set; }

    /// <summary>What could not be read, JSON list, or null.</summary>
    public string? Problems { get; set; }

    /// <summary>When the record was read for the first time; what it held before then is not known.</summary>
    public DateTimeOffset FirstReadAt { get; set; }

    /// <summary>When this form was first read.</summary>
    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>When a full read no longer found it.</summary>
    public DateTimeOffset? GoneAt { get; set; }

    /// <summary>When a whole reading first did not meet it, as long as nothing else says that it is gone; null: it was met.</summary>
    public DateTimeOffset? MissedAt { get; set; }

    /// <summary>When what tells who somebody is was taken out of it; null: it is as it was read.</summary>
    public DateTimeOffset? AnonymisedAt { get; set; }
}

/// <summary>How <see cref="MirrorRecord"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MirrorRecordStored : IEntityTypeConfiguration<MirrorRecord>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MirrorRecord> e)
    {
        e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.Key,
            })
            .IsUnique();
        e.HasIndex(r => r.AnonymisedAt).HasFilter("\"AnonymisedAt\" IS NOT NULL");
        // With what is gone, so that records are counted without being read.
        e.HasIndex(r => new
        {
            r.SystemId,
            r.Kind,
            r.Reference,
            r.GoneAt,
        });
        e.HasIndex(r => new
            {
                r.SystemId,
                r.Kind,
                r.GoneAt,
            })
            .HasFilter("\"Problems\" IS NOT NULL AND \"GoneAt\" IS NULL");
        e.HasIndex(r => new
        {
            r.SystemId,
            r.Kind,
            r.Parent,
        });
        e.HasIndex(r => new
        {
            r.SystemId,
            r.Kind,
            r.Group,
        });
        e.HasIndex(r => new { r.SystemId, r.Kind }).HasFilter("\"MissedAt\" IS NOT NULL");
        // What is new of a system is found without its records being read.
        e.HasIndex(r => new
        {
            r.SystemId,
            r.Kind,
            r.ChangedAt,
        });
        // The search index is brought up to date by what has changed since.
        e.HasIndex(r => r.ChangedAt);
        e.HasIndex(r => r.GoneAt).HasFilter("\"GoneAt\" IS NOT NULL");
    }
}

/// <summary>How <see cref="MirrorParent"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MirrorParentStored : IEntityTypeConfiguration<MirrorParent>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MirrorParent> e)
    {
        e.HasKey(p => new
        {
            p.SystemId,
            p.Kind,
            p.Key,
        });
    }
}

/// <summary>How <see cref="MirrorRead"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MirrorReadStored : IEntityTypeConfiguration<MirrorRead>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MirrorRead> e)
    {
        e.HasIndex(r => new
        {
            r.SystemId,
            r.Kind,
            r.StartedAt,
        });
        e.HasIndex(r => r.StartedAt);
        // One reading of a kind at a time.
        e.HasIndex(r => new { r.SystemId, r.Kind }).HasFilter("\"State\" = 'Reading'").IsUnique();
    }
}

/// <summary>How <see cref="MirrorReadPage"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MirrorReadPageStored : IEntityTypeConfiguration<MirrorReadPage>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MirrorReadPage> e)
    {
        e.HasKey(p => new { p.ReadId, p.Number });
    }
}

/// <summary>How <see cref="ValueChange"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ValueChangeStored : IEntityTypeConfiguration<ValueChange>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ValueChange> e)
    {
        e.HasIndex(v => new
        {
            v.SystemId,
            v.Kind,
            v.Key,
            v.Field,
        });
        e.HasIndex(v => v.At);
    }
}
