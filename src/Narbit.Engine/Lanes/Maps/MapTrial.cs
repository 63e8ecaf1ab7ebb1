namespace Narbit.Engine.Lanes.Maps;

/// <summary>What a map would do, seen field by field.</summary>
public sealed record MapTrial : TrialResult
{
    /// <summary>How many would be created.</summary>
    public int Creates { get; init; }

    /// <summary>How many would be hidden or ended.</summary>
    public int Withdrawn { get; init; }

    /// <summary>How many would change at the source.</summary>
    public int Back { get; init; }

    /// <summary>How many fields the target requires of a new record.</summary>
    public int Required { get; init; }

    /// <summary>How many of these have a source.</summary>
    public int RequiredMapped { get; init; }

    /// <summary>The effect on each field.</summary>
    public IReadOnlyList<FieldEffect> Fields { get; init; } = [];

    /// <summary>Why records cannot be mapped, most of them first.</summary>
    public IReadOnlyList<FailureGroup> Failures { get; init; } = [];

    /// <summary>Five records, seen through the field that is being edited; failing ones first, then those that change.</summary>
    public IReadOnlyList<FieldSample> Samples { get; init; } = [];
}
