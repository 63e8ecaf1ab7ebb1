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

/// <summary>
/// What stands around several records in a system's reply, e.g. a product around its variants; kept once for all of them.
/// </summary>
public sealed class MirrorParent
{
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required string Key { get; set; }

    /// <summary>As the system sent it, JSON, without the records within it.</summary>
    public required string Raw { get; set; }
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

public enum ReadState
{
    Reading,
    Done,
    Failed,
}

/// <summary>One reading of a record kind, page by page. A reading that was cut off goes on at its cursor.</summary>
public sealed class MirrorRead
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    /// <summary>Only what changed since; null: everything.</summary>
    public DateTimeOffset? Since { get; set; }

    /// <summary>The page to ask for next; null before the first and after the last.</summary>
    public string? Cursor { get; set; }

    public ReadState State { get; set; }

    public int Pages { get; set; }

    public int Records { get; set; }

    /// <summary>Entries of the system's own list that were read.</summary>
    public int Listed { get; set; }

    /// <summary>Entries the system says the list has.</summary>
    public int? Total { get; set; }

    public int Changed { get; set; }

    public int Gone { get; set; }

    /// <summary>Records with a value that could not be read.</summary>
    public int Troubled { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    public string? Message { get; set; }

    /// <summary>Whether the list changed while it was read, so that an entry may have been passed over or met twice.</summary>
    public bool Moved { get; set; }

    /// <summary>When it was begun by the system's own clock; null: the system does not say.</summary>
    public DateTimeOffset? AsOf { get; set; }

    /// <summary>The latest change that any reading so far has met, as the system says; null: it does not say.</summary>
    public DateTimeOffset? NewestChange { get; set; }

    /// <summary>How many entries could not be kept as records.</summary>
    public int Unkept { get; set; }

    /// <summary>The first of the entries that could not be kept, JSON; null: all could.</summary>
    public string? UnkeptFirst { get; set; }
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

/// <summary>How far a reading has come, once what it read is stored.</summary>
public sealed record ReadProgress
{
    public string? Cursor { get; init; }

    public int Pages { get; init; }

    public int Records { get; init; }

    public int Listed { get; init; }

    public int? Total { get; init; }

    public int Troubled { get; init; }

    public bool Moved { get; init; }

    public DateTimeOffset? AsOf { get; init; }

    public DateTimeOffset? NewestChange { get; init; }

    public int Unkept { get; init; }

    public string? UnkeptFirst { get; init; }

    /// <summary>Where a reading is.</summary>
    public static ReadProgress Of(MirrorRead read) =>
        new()
        {
            Cursor = read.Cursor,
            Pages = read.Pages,
            Records = read.Records,
            Listed = read.Listed,
            Total = read.Total,
            Troubled = read.Troubled,
            Moved = read.Moved,
            AsOf = read.AsOf,
            NewestChange = read.NewestChange,
            Unkept = read.Unkept,
            UnkeptFirst = read.UnkeptFirst,
        };

    /// <summary>Says so of a reading; only what is stored is said.</summary>
    public void PutInto(MirrorRead read)
    {
        (read.Cursor, read.Pages, read.Records, read.Listed) = (Cursor, Pages, Records, Listed);
        (read.Total, read.Troubled, read.Moved) = (Total, Troubled, Moved);
        (read.AsOf, read.NewestChange) = (AsOf, NewestChange);
        (read.Unkept, read.UnkeptFirst) = (Unkept, UnkeptFirst);
    }
}

/// <summary>The keys that one page of a full read held, hashed; so that a read that was cut off still knows what it has seen.</summary>
public sealed class MirrorReadPage
{
    public long ReadId { get; set; }

    public int Number { get; set; }

    /// <summary>XXH64 of each key, 8 bytes each.</summary>
    public required byte[] Keys { get; set; }
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

/// <summary>
/// A value that was seen to have changed in a system, whoever changed it. Written by the database itself whenever a mirrored record
/// changes.
/// </summary>
public sealed class ValueChange
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required string Key { get; set; }

    public required string Field { get; set; }

    public string? Old { get; set; }

    public string? New { get; set; }

    /// <summary>When it was seen.</summary>
    public required DateTimeOffset At { get; set; }

    /// <summary>The write of ours that was seen in it; null: somebody else changed it.</summary>
    public long? WriteId { get; set; }
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
