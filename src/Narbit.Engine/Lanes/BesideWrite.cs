using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A record of another kind that is written at the target beside the one that was computed.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="SourceKey">What it is known by until it has a key of its own.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is in words.</param>
public sealed record BesideWrite(RecordKind Kind, string SourceKey, string? Reference, string? Caption)
{
    /// <summary>The key of the record that changes; null: it is created.</summary>
    public string? TargetKey { get; init; }

    /// <summary>Its fields.</summary>
    public IReadOnlyList<ComputedField> Fields { get; init; } = [];

    /// <summary>The lists within it.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;
}
