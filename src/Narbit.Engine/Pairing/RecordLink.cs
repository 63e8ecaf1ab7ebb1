namespace Narbit.Engine.Pairing;

/// <summary>A link as a lane sees it: this record of the source is that record of the target.</summary>
public sealed class RecordLink
{
    /// <summary>Its number; links are in the order in which they were made.</summary>
    public long Id { get; init; }

    /// <summary>The source's record.</summary>
    public required string SourceKey { get; init; }

    /// <summary>The target's record.</summary>
    public required string TargetKey { get; init; }

    /// <summary>How many of the source's record one of the target's stands for.</summary>
    public decimal Quantity { get; init; } = 1;

    /// <summary>Whether it is one of several that make up a kit of the target.</summary>
    public bool IsKit { get; init; }
}
