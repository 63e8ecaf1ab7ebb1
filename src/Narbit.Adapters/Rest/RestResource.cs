using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>One record kind of the system.</summary>
public sealed record RestResource
{
    /// <summary>The kind.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>What the system calls these records.</summary>
    public required string Label { get; init; }

    /// <summary>How they are listed.</summary>
    public required RestList List { get; init; }

    /// <summary>How they are read by key.</summary>
    public RestLookup? Lookup { get; init; }

    /// <summary>How records are found by what stands in a field; null: they are not.</summary>
    public RestFind? Find { get; init; }

    /// <summary>The path of the key.</summary>
    public required string Key { get; init; }

    /// <summary>The path of the key of the record that it belongs to: a variant's product, a stock level's item.</summary>
    public string? Parent { get; init; }

    /// <summary>The path of the code that sisters share, where the system has one.</summary>
    public string? Group { get; init; }

    /// <summary>The fields.</summary>
    public required IReadOnlyList<RestField> Fields { get; init; }

    /// <summary>The lists within each record: an order's lines, a customer's addresses.</summary>
    public IReadOnlyList<RestChildren> Children { get; init; } = [];

    /// <summary>How they are written.</summary>
    public RestWrite? Write { get; init; }

    /// <summary>How records are created; null: they cannot be.</summary>
    public RestCreate? Create { get; init; }
}
