namespace Narbit.Engine.Lanes;

/// <summary>What a rule would do, seen through the leading value of each record.</summary>
public sealed record ValueTrial : TrialResult
{
    /// <summary>How many would rise.</summary>
    public int Up { get; init; }

    /// <summary>How many would fall.</summary>
    public int Down { get; init; }

    /// <summary>The leading field's label, type and unit; null where no record could be computed.</summary>
    public ShownField? Field { get; init; }

    /// <summary>A few records from the smallest result to the largest.</summary>
    public IReadOnlyList<TrialRecord> Samples { get; init; } = [];

    /// <summary>The records with the largest moves.</summary>
    public IReadOnlyList<TrialRecord> Largest { get; init; } = [];
}
