using Narbit.Core.Comparing;

namespace Narbit.Data.Proofs;

/// <summary>A field, or a record, that a full compare found out of step or mistaken.</summary>
public sealed class ProofLine
{
    public long Id { get; set; }

    public long ProofId { get; set; }

    public StepFinding Finding { get; set; }

    public required string SourceKey { get; set; }

    public required string TargetKey { get; set; }

    public string? Reference { get; set; }

    public string? Caption { get; set; }

    /// <summary>The target's field; null: it is about the record.</summary>
    public string? Field { get; set; }

    /// <summary>What is there.</summary>
    public string? There { get; set; }

    /// <summary>What should be there.</summary>
    public string? Should { get; set; }

    /// <summary>What both sides had agreed on, or for a mistaken one what Narbit took for granted.</summary>
    public string? Before { get; set; }

    /// <summary>Why, where that is more than the values say.</summary>
    public string? Words { get; set; }
}
