using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Narbit.Data.Telling;

/// <summary>How <see cref="Wish"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class WishStored : IEntityTypeConfiguration<Wish>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Wish> e)
    {
        e.HasKey(w => new
        {
            w.Person,
            w.Harm,
            w.Cause,
        });
    }
}

/// <summary>How <see cref="Told"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ToldStored : IEntityTypeConfiguration<Told>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Told> e)
    {
        e.HasKey(t => t.Person);
    }
}

/// <summary>A mail that was made, and what became of it.</summary>
public sealed class Mail
{
    public long Id { get; set; }

    public required string Person { get; set; }

    public required string To { get; set; }

    public required string Subject { get; set; }

    public required string Text { get; set; }

    public required string Html { get; set; }

    public DateTimeOffset MadeAt { get; set; }

    /// <summary>When the server took it; null: it has not yet.</summary>
    public DateTimeOffset? SentAt { get; set; }

    public int Tries { get; set; }

    /// <summary>When it is tried next; null: never again.</summary>
    public DateTimeOffset? NextAt { get; set; }

    /// <summary>Why it was not taken the last time.</summary>
    public string? Fault { get; set; }
}

/// <summary>How <see cref="Mail"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MailStored : IEntityTypeConfiguration<Mail>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Mail> e)
    {
        e.HasIndex(m => m.NextAt).HasFilter("\"NextAt\" IS NOT NULL");
        e.HasIndex(m => m.MadeAt);
        e.HasIndex(m => m.Person);
    }
}

/// <summary>How <see cref="Delivery"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class DeliveryStored : IEntityTypeConfiguration<Delivery>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Delivery> e)
    {
        e.HasIndex(d => d.NextAt).HasFilter("\"NextAt\" IS NOT NULL");
        e.HasIndex(d => d.ListenerId);
        e.HasIndex(d => d.MadeAt);
    }
}
