using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>What another description does to the records of a kind that the mirror keeps.</summary>
public sealed record KindEffect
{
    /// <summary>The kind.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>What the system calls the records.</summary>
    public required string Label { get; init; }

    /// <summary>How many were looked at; the first 20,000 at most.</summary>
    public required int Looked { get; init; }

    /// <summary>How many have other values.</summary>
    public required int Otherwise { get; init; }

    /// <summary>How many would no longer be read as described, and were before.</summary>
    public required int Troubled { get; init; }

    /// <summary>The fields that change, those of most records first.</summary>
    public required IReadOnlyList<FieldReadOtherwise> Fields { get; init; }

    /// <summary>What else is to be said of it; null: nothing.</summary>
    public string? Said { get; init; }
}
