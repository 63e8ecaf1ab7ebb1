using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Telling;

namespace Narbit.Data.Telling;

/// <summary>How the way to a mail server is kept from others.</summary>
[JsonConverter(typeof(CamelCaseEnum<MailSecurity>))]
public enum MailSecurity
{
    /// <summary>TLS from the first byte, mostly at port 465.</summary>
    Tls,

    /// <summary>TLS once the server has greeted, mostly at port 587; without it nothing is sent.</summary>
    StartTls,

    /// <summary>Not at all; for a server on the same machine.</summary>
    None,
}

/// <summary>The server that takes Narbit's mails. There is one row.</summary>
public sealed class MailServer
{
    public int Id { get; set; } = 1;

    public required string Host { get; set; }

    public int Port { get; set; }

    public MailSecurity Security { get; set; }

    /// <summary>Who signs in; null: nobody needs to.</summary>
    public string? User { get; set; }

    /// <summary>Encrypted; never leaves the engine.</summary>
    public string? ProtectedPassword { get; set; }

    /// <summary>The address that mails come from.</summary>
    public required string From { get; set; }

    /// <summary>The address at which people reach Narbit, for the links in mails.</summary>
    public required string LinksTo { get; set; }

    /// <summary>Since when people are told.</summary>
    public DateTimeOffset Since { get; set; }

    /// <summary>The time of day at which a day is summed up, <c>HH:mm</c> in the workspace's zone.</summary>
    public required string DailyAt { get; set; }
}

/// <summary>When somebody wants to be told of a cause, or of all that does some harm; where there is none, as is usual.</summary>
public sealed class Wish
{
    public required string Person { get; set; }

    public Harm Harm { get; set; }

    /// <summary>The cause; empty: all others of the harm.</summary>
    public string Cause { get; set; } = "";

    public WhenTold When { get; set; }
}

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

/// <summary>What somebody was told of.</summary>
public sealed class Told
{
    public required string Person { get; set; }

    /// <summary>Of all that opened until then.</summary>
    public DateTimeOffset Until { get; set; }

    /// <summary>When the last message at once was made.</summary>
    public DateTimeOffset? AtOnceAt { get; set; }

    /// <summary>The last day that was summed up, ISO 8601.</summary>
    public string? SummedUpOn { get; set; }
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

/// <summary>Another tool that is told by webhook of what is new.</summary>
public sealed class Listener
{
    public long Id { get; set; }

    public required string Name { get; set; }

    public required string Address { get; set; }

    /// <summary>What its webhooks are signed with, encrypted; shown once.</summary>
    public required string ProtectedSecret { get; set; }

    /// <summary>Whether it is told only of what does harm by itself, as people are told of at once.</summary>
    public bool OnlyHarm { get; set; }

    /// <summary>The address at which people reach Narbit, for the links that it is told.</summary>
    public required string LinksTo { get; set; }

    /// <summary>It was told of all that opened until then.</summary>
    public DateTimeOffset Until { get; set; }
}

/// <summary>A webhook that was made for another tool, and what became of it.</summary>
public sealed class Delivery
{
    public long Id { get; set; }

    public long ListenerId { get; set; }

    /// <summary>What the other tool knows it by, so that one that comes twice is taken once.</summary>
    public required string EventId { get; set; }

    /// <summary>JSON.</summary>
    public required string Body { get; set; }

    public DateTimeOffset MadeAt { get; set; }

    /// <summary>When the other tool took it; null: it has not yet.</summary>
    public DateTimeOffset? SentAt { get; set; }

    public int Tries { get; set; }

    /// <summary>When it is tried next; null: never again.</summary>
    public DateTimeOffset? NextAt { get; set; }

    /// <summary>Why it was not taken the last time.</summary>
    public string? Fault { get; set; }
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
