using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>A line of the desk's list: an open record with what pairing makes of it, a pair in force, or a record set aside.</summary>
public sealed record DeskRow
{
    /// <summary>What the list knows it by.</summary>
    public required string Id { get; init; }

    /// <summary>open, paired, kit, setAside, toCreate or waiting.</summary>
    public required string Standing { get; init; }

    /// <summary>The hub's record; null: it has none.</summary>
    public required string? HubKey { get; init; }

    /// <summary>The other system's record; null: it has none.</summary>
    public required string? OtherKey { get; init; }

    /// <summary>What pairing thinks; null where a person has decided.</summary>
    public required Verdict? Verdict { get; init; }

    /// <summary>How sure pairing is, 0 to 1.</summary>
    public required double Confidence { get; init; }

    /// <summary>What a person knows it by.</summary>
    public required string? Reference { get; init; }

    /// <summary>What it is, in words.</summary>
    public required string? Caption { get; init; }

    /// <summary>What speaks against pairing it by itself, by code.</summary>
    public required IReadOnlyList<string> Causes { get; init; }

    /// <summary>What else is said of it.</summary>
    public required string? Note { get; init; }

    /// <summary>The decision that it goes by; null: none.</summary>
    public required long? DecisionId { get; init; }
}
