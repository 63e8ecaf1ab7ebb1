namespace Narbit.Core.Mapping;

/// <summary>A table that translates one system's codes to another's. Several codes may become one; one never becomes several.</summary>
public sealed record Crosswalk
{
    /// <summary>Its name within the lane.</summary>
    public required string Name { get; init; }

    /// <summary>The entries.</summary>
    public IReadOnlyList<CrosswalkEntry> Entries { get; init; } = [];

    /// <summary>What becomes of a code without an entry.</summary>
    public Unlisted Unlisted { get; init; }

    /// <summary>The code for those, where <see cref="Unlisted"/> says so.</summary>
    public string? Default { get; init; }

    /// <summary>
    /// For categories: what stands between two levels, so that a code without an entry finds its nearest branch's; null: the codes are
    /// flat.
    /// </summary>
    public string? Separator { get; init; }
}
