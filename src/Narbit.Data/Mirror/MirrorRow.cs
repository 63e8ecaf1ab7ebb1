namespace Narbit.Data.Mirror;

/// <summary>
/// A record's place in the mirror, as pairing and computing need it; its values as JSON in UTF-8, which they are read from.
/// </summary>
public readonly record struct MirrorRow(string Key, string? Parent, string? Group, string? Reference, string? Caption)
{
    public required byte[] Values { get; init; }

    public string? Problems { get; init; }

    public string? Children { get; init; }

    public DateTimeOffset ChangedAt { get; init; }

    /// <summary>What the record shares with its sisters: their group code or, where there is none, the record they all belong to.</summary>
    public string? Family => Group ?? Parent;
}
