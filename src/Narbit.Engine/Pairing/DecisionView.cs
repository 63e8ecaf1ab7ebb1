using Narbit.Core.Pairing;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>A decision as it is shown.</summary>
public sealed record DecisionView
{
    /// <summary>The decision.</summary>
    public required long Id { get; init; }

    /// <summary>What was decided.</summary>
    public required DecisionAct Act { get; init; }

    /// <summary>What became of it.</summary>
    public required DecisionState State { get; init; }

    /// <summary>The same in words.</summary>
    public required string Words { get; init; }

    /// <summary>The hub's record; null: none.</summary>
    public required string? HubKey { get; init; }

    /// <summary>The other system's record; null: none.</summary>
    public required string? OtherKey { get; init; }

    /// <summary>What a person knows it by.</summary>
    public required string? Reference { get; init; }

    /// <summary>What it is, in words.</summary>
    public required string? Caption { get; init; }

    /// <summary>Why, where a person said so.</summary>
    public required string? Reason { get; init; }

    /// <summary>What was seen when it was decided.</summary>
    public required string Evidence { get; init; }

    /// <summary>What pairing thought then.</summary>
    public required string? Verdict { get; init; }

    /// <summary>Who decided.</summary>
    public required string By { get; init; }

    /// <summary>When.</summary>
    public required DateTimeOffset At { get; init; }

    /// <summary>A kit's parts.</summary>
    public required IReadOnlyList<KitItem> Parts { get; init; }
}
