namespace Narbit.Core.Records;

/// <summary>A record as an adapter read it.</summary>
/// <param name="Key">The system's own key.</param>
/// <param name="Parent">The key of the record that it belongs to: the product of a variant, the item of a stock level; or null.</param>
/// <param name="Values">Canonical text by field name: decimals invariant, instants ISO 8601 in UTC, booleans <c>true</c> or <c>false</c>.
/// A missing value has no entry.</param>
/// <param name="Raw">The record as the system sent it, UTF-8 JSON.</param>
/// <param name="Problems">Values that could not be read.</param>
public sealed record ReadRecord(
    string Key,
    string? Parent,
    IReadOnlyDictionary<string, string> Values,
    ReadOnlyMemory<byte> Raw,
    IReadOnlyList<FieldProblem> Problems
)
{
    /// <summary>The code that sisters share, where the system has one; null: they share their parent, or nothing.</summary>
    public string? Group { get; init; }

    /// <summary>The entries of each list within it, by the list's name, in the system's order.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;

    /// <summary>What stands around it in the system's reply, without its sisters, UTF-8 JSON; empty where nothing does.</summary>
    public ReadOnlyMemory<byte> RawParent { get; init; }
}
