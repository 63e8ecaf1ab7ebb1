using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Systems;

/// <summary>How <see cref="Colleague"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ColleagueStored : IEntityTypeConfiguration<Colleague>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Colleague> e)
    {
        e.HasKey(c => c.Name);
    }
}

/// <summary>How <see cref="ReservedKey"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ReservedKeyStored : IEntityTypeConfiguration<ReservedKey>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ReservedKey> e)
    {
        e.HasIndex(k => k.At);
        e.HasKey(k => new
        {
            k.SystemId,
            k.Kind,
            k.Key,
        });
        e.HasIndex(k => k.IdempotencyKey).IsUnique();
    }
}

/// <summary>How <see cref="MetServer"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class MetServerStored : IEntityTypeConfiguration<MetServer>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<MetServer> e)
    {
        e.HasKey(s => s.Server);
    }
}

/// <summary>How <see cref="DescriptionVersion"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class DescriptionVersionStored : IEntityTypeConfiguration<DescriptionVersion>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<DescriptionVersion> e)
    {
        e.HasKey(v => new { v.SystemId, v.Number });
    }
}

/// <summary>A connected system.</summary>
public sealed class ConnectedSystem
{
    /// <summary>A short name for addresses, e.g. <c>web-shop</c>.</summary>
    public required string Id { get; set; }

    public required string Name { get; set; }

    public required SystemKind Kind { get; set; }

    public required string Mark { get; set; }

    public required string Currency { get; set; }

    public int Decimals { get; set; } = 2;

    /// <summary>Its description to the adapter, JSON.</summary>
    public required string Document { get; set; }

    public required string Address { get; set; }

    /// <summary>Encrypted; never leaves the engine.</summary>
    public string? ProtectedCredential { get; set; }

    public DateTimeOffset? CredentialSetAt { get; set; }

    /// <summary>The last day on which the credential holds, as a person knows it, <c>yyyy-MM-dd</c>; null: no end is known.</summary>
    public string? CredentialEndsOn { get; set; }

    /// <summary>What a person has granted Narbit there, encrypted; never leaves the engine. Null: nothing.</summary>
    public string? ProtectedGrant { get; set; }

    public DateTimeOffset? GrantedAt { get; set; }

    /// <summary>Why what was granted counts no more; null: it counts.</summary>
    public string? GrantLostWhy { get; set; }

    public bool MayRead { get; set; } = true;

    public bool MayWrite { get; set; } = true;

    public DateTimeOffset? TestedAt { get; set; }

    public bool? TestOk { get; set; }

    public string? TestMessage { get; set; }

    /// <summary>The secret that its webhooks are signed with, encrypted; null: none are taken.</summary>
    public string? ProtectedHookSecret { get; set; }

    /// <summary>The secret before it, which counts for a while longer.</summary>
    public string? ProtectedHookSecretBefore { get; set; }

    /// <summary>When the secret was made.</summary>
    public DateTimeOffset? HookSecretAt { get; set; }

    /// <summary>Whether what is otherwise read for its changes alone is read whole once a day.</summary>
    public bool ReadsWholeDaily { get; set; } = true;

    /// <summary>Since when it is neither read nor written; null: it is at work.</summary>
    public DateTimeOffset? PausedAt { get; set; }

    /// <summary>Who paused it.</summary>
    public string? PausedBy { get; set; }

    /// <summary>When somebody removed it; what was read and written stays readable. Null: it is there.</summary>
    public DateTimeOffset? RemovedAt { get; set; }

    /// <summary>Goes up with every change of address, description or credentials.</summary>
    public int Revision { get; set; } = 1;
}

/// <summary>How <see cref="ConnectedSystem"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ConnectedSystemStored : IEntityTypeConfiguration<ConnectedSystem>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ConnectedSystem> e)
    {
        e.Property(s => s.Revision).IsConcurrencyToken();
        // What was removed is passed over, but by history, which asks for it.
        e.HasQueryFilter(s => s.RemovedAt == null);
    }
}
