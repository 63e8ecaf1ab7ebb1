using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>A list within a record. It is read, kept and written together with its record.</summary>
public sealed record RestChildren
{
    /// <summary>Narbit's name for it, e.g. <c>lines</c>.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>What it means.</summary>
    public ListRole Role { get; init; }

    /// <summary>Where the record keeps it; an object there is a list of one. A list of its own path is put there.</summary>
    public required string Path { get; init; }

    /// <summary>
    /// How it is listed where the record does not hold it: <c>{key}</c> in the path stands for the record's key. It is asked for once for
    /// each record. Null: the record holds it.
    /// </summary>
    public RestList? List { get; init; }

    /// <summary>Whether entries that are written are added to those that are there; otherwise they take their place.</summary>
    public bool Adds { get; init; }

    /// <summary>
    /// Where each entry keeps the entries nested in it, which are read instead: a refund's lines. ^ then reaches the entry around them.
    /// </summary>
    public string? Each { get; init; }

    /// <summary>Whether there is one entry at most, so that it is written as an object and not as a list.</summary>
    public bool Single { get; init; }

    /// <summary>The fields of each entry; ^ at the start of a path reaches the record around it.</summary>
    public required IReadOnlyList<RestField> Fields { get; init; }

    /// <summary>The name under which it is written; null: it is read only.</summary>
    public string? WriteAs { get; init; }
}
