using Narbit.Core;

namespace Narbit.Engine.Lanes;

/// <summary>One record under a rule on trial.</summary>
public sealed record TrialRecord
{
    /// <summary>The source's key.</summary>
    public required string SourceKey { get; init; }

    /// <summary>The target's key.</summary>
    public required string TargetKey { get; init; }

    /// <summary>What a person knows it by.</summary>
    public string? Reference { get; init; }

    /// <summary>What it is in words.</summary>
    public string? Caption { get; init; }

    /// <summary>What the target has.</summary>
    public string? Now { get; init; }

    /// <summary>What the saved rule gives.</summary>
    public string? InForce { get; init; }

    /// <summary>What the rule on trial gives.</summary>
    public string? Trial { get; init; }

    /// <summary>From now to trial, in the work's own measure.</summary>
    public decimal? Move { get; init; }

    /// <summary>Why it would be held, or null.</summary>
    public Reason? Hold { get; init; }

    /// <summary>How the trial's value comes about.</summary>
    public IReadOnlyList<TraceStep> Trace { get; init; } = [];
}
