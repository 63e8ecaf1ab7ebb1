using Narbit.Core.Records;

namespace Narbit.Data.Systems;

/// <summary>The business whose systems are kept in step. There is one row.</summary>
public sealed class Workspace
{
    public int Id { get; set; } = 1;

    public required string Name { get; set; }

    public required string TimeZone { get; set; }

    public required string HubId { get; set; }

    /// <summary>Who is at the screen; written into versions and runs.</summary>
    public required string Person { get; set; }
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

    public bool MayRead { get; set; } = true;

    public bool MayWrite { get; set; } = true;

    public DateTimeOffset? TestedAt { get; set; }

    public bool? TestOk { get; set; }

    public string? TestMessage { get; set; }

    /// <summary>Goes up with every change of address, description or credentials.</summary>
    public int Revision { get; set; } = 1;
}
