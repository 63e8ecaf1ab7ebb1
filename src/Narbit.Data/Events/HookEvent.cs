using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Events;

/// <summary>
/// A webhook that was taken: what it is about, and whether that was read by now. What it says beside that is not believed.
/// </summary>
public sealed class HookEvent
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    /// <summary>The system's own name of it; the same event twice is one.</summary>
    public required string EventId { get; set; }

    public RecordKind Kind { get; set; }

    public required string RecordKey { get; set; }

    public DateTimeOffset ReceivedAt { get; set; }

    /// <summary>How often it was tried in vain to read it.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried again; null: at once, or not any more.</summary>
    public DateTimeOffset? NextAt { get; set; }

    /// <summary>Why it could not be read the last time; null: it was not tried, or it is read.</summary>
    public string? Fault { get; set; }

    /// <summary>When it was set aside, since it could not be read however often it was tried; null: it was not.</summary>
    public DateTimeOffset? SetAsideAt { get; set; }

    /// <summary>When the record was read; null: not yet.</summary>
    public DateTimeOffset? ReadAt { get; set; }
}

/// <summary>How <see cref="HookEvent"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class HookEventStored : IEntityTypeConfiguration<HookEvent>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<HookEvent> e)
    {
        // The same event twice is one: the database says no.
        e.HasIndex(h => new { h.SystemId, h.EventId }).IsUnique();
        e.HasIndex(h => new { h.SystemId, h.ReadAt });
        e.HasIndex(h => h.ReceivedAt);
    }
}
