namespace Narbit.Core.Records;

/// <summary>A list within a record of some kind: an order's lines, its payments, its shipments, a customer's addresses.</summary>
/// <param name="Name">The name, unique within the record kind.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Fields">The fields of each entry.</param>
/// <param name="Writable">Whether Narbit may write it, as part of its record.</param>
/// <param name="Role">What it means.</param>
public sealed record ChildList(string Name, string Label, FieldSet Fields, bool Writable = false, ListRole Role = ListRole.None)
{
    /// <summary>Whether entries that are written are added to those that are there; otherwise they take their place.</summary>
    public bool Adds { get; init; }
}
