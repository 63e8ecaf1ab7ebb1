using Narbit.Core;
using Narbit.Core.Guarding;

namespace Narbit.Engine.Lanes;

/// <summary>
/// What a document would do if it were saved; each way of looking at it adds what it shows, and is told apart by
/// <see cref="LaneJson.LooksAt"/>.
/// </summary>
public abstract record TrialResult
{
    /// <summary>The findings of its check.</summary>
    public IReadOnlyList<RuleFault> Faults { get; init; } = [];

    /// <summary>Records in scope.</summary>
    public int Records { get; init; }

    /// <summary>How many of them would change at the target.</summary>
    public int Changes { get; init; }

    /// <summary>How many would by the saved document.</summary>
    public int ChangesInForce { get; init; }

    /// <summary>How many would be held for a person.</summary>
    public int Held { get; init; }

    /// <summary>How many cannot be computed.</summary>
    public int Failing { get; init; }

    /// <summary>The guards that would be tripped.</summary>
    public IReadOnlyList<TrippedGuard> Tripped { get; init; } = [];
}
