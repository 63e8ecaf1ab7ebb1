namespace Narbit.Core.Mapping;

/// <summary>How one field of the target comes about.</summary>
public sealed record FieldMapping
{
    /// <summary>The target's field.</summary>
    public required string Target { get; init; }

    /// <summary>Where the value is taken from.</summary>
    public MapSource Source { get; init; } = new();

    /// <summary>What is done to it, in order.</summary>
    public IReadOnlyList<MapStep> Steps { get; init; } = [];

    /// <summary>Whose value it is.</summary>
    public Owner Owner { get; init; }

    /// <summary>Which way it may flow.</summary>
    public Flow Flow { get; init; }

    /// <summary>For a field that nobody owns: what becomes of two changes.</summary>
    public ConflictPolicy Conflict { get; init; }
}
