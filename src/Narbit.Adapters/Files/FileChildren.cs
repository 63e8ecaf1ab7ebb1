using Narbit.Core.Records;

namespace Narbit.Adapters.Files;

/// <summary>A list within a record: some of the rows that have its key.</summary>
public sealed record FileChildren
{
    /// <summary>Narbit's name for it.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>What the entries are.</summary>
    public ListRole Role { get; init; }

    /// <summary>What rows must have in which columns to be entries; all rows where nothing is said.</summary>
    public IReadOnlyDictionary<string, string> Where { get; init; } = new Dictionary<string, string>();

    /// <summary>The column that makes rows one entry where they have the same in it; null: each row is one.</summary>
    public string? Once { get; init; }

    /// <summary>The fields of an entry.</summary>
    public required IReadOnlyList<FileField> Fields { get; init; }
}
