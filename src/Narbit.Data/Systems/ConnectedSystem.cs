using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Data.Systems;

/// <summary>How numbers are written on screen: 1234.5 as an example.</summary>
[JsonConverter(typeof(CamelCaseEnum<NumberForm>))]
public enum NumberForm
{
    /// <summary>1,234.50</summary>
    Point,

    /// <summary>1.234,50</summary>
    Comma,

    /// <summary>1 234,50</summary>
    SpaceComma,

    /// <summary>1’234.50</summary>
    ApostrophePoint,
}

/// <summary>The day on which weeks begin.</summary>
[JsonConverter(typeof(CamelCaseEnum<FirstDay>))]
public enum FirstDay
{
    /// <summary>As ISO 8601 has it.</summary>
    Monday,

    /// <summary>As in much of the Near East.</summary>
    Saturday,

    /// <summary>As in much of America.</summary>
    Sunday,
}

/// <summary>How dates are written on screen.</summary>
[JsonConverter(typeof(CamelCaseEnum<DateForm>))]
public enum DateForm
{
    /// <summary>29 Nov 2026</summary>
    DayFirst,

    /// <summary>Nov 29, 2026</summary>
    MonthFirst,

    /// <summary>29.11.2026</summary>
    Dots,

    /// <summary>29/11/2026</summary>
    Slashes,

    /// <summary>2026-11-29 (ISO 8601)</summary>
    YearFirst,
}

/// <summary>The business whose systems are kept in step. There is one row.</summary>
public sealed class Workspace
{
    public int Id { get; set; } = 1;

    public required string Name { get; set; }

    public required string TimeZone { get; set; }

    /// <summary>The system that the others are kept in step with; null: none is chosen yet.</summary>
    public string? HubId { get; set; }

    /// <summary>ISO 4217 code of what amounts are told in where no system says otherwise; null: none.</summary>
    public string? Currency { get; set; }

    /// <summary>ISO 3166-1 code of the country whose phone numbers are written without a country code; null: none.</summary>
    public string? Country { get; set; }

    /// <summary>Who is at the screen; written into versions and runs.</summary>
    public required string Person { get; set; }

    public NumberForm Numbers { get; set; }

    public DateForm Dates { get; set; }

    public FirstDay FirstDay { get; set; }

    /// <summary>So many days after they were placed orders are anonymised; null: never by themselves.</summary>
    public int? AnonymiseAfterDays { get; set; }

    /// <summary>The time of day at which all lanes are compared afresh, <c>HH:mm</c> in the zone; null: only when somebody asks.</summary>
    public string? ProvedAt { get; set; }
}

/// <summary>Somebody who works here. There is no sign-in yet: whoever is at the screen says who they are.</summary>
public sealed class Colleague
{
    public required string Name { get; set; }

    /// <summary>Their mail address; null: none is known.</summary>
    public string? Mail { get; set; }
}

/// <summary>How <see cref="Colleague"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ColleagueStored : IEntityTypeConfiguration<Colleague>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Colleague> e)
    {
        e.HasKey(c => c.Name);
    }
}

/// <summary>A key that was given to a record before it was created, so that nothing else gets it and a second try gives the same.</summary>
public sealed class ReservedKey
{
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required long Key { get; set; }

    /// <summary>The creation that it is for.</summary>
    public required string IdempotencyKey { get; set; }

    /// <summary>When it was reserved.</summary>
    public DateTimeOffset At { get; set; }
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

/// <summary>A server that files are fetched from, and the key by which it is known again.</summary>
public sealed class MetServer
{
    /// <summary>Its name and port.</summary>
    public required string Server { get; set; }

    /// <summary>SHA-256 of its host key, base64.</summary>
    public required string Fingerprint { get; set; }

    public required DateTimeOffset MetAt { get; set; }
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

/// <summary>A description that a system had, or has.</summary>
public sealed class DescriptionVersion
{
    public required string SystemId { get; set; }

    /// <summary>From 1 on; the highest is the one in force.</summary>
    public required int Number { get; set; }

    public required string Document { get; set; }

    public required string Address { get; set; }

    public required string Author { get; set; }

    public required DateTimeOffset At { get; set; }
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
