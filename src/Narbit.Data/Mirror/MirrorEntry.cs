namespace Narbit.Data.Mirror;

/// <summary>A record made ready for the mirror.</summary>
public sealed record MirrorEntry
{
    public required string Key { get; init; }

    public required ulong KeyHash { get; init; }

    public string? Parent { get; init; }

    public string? Group { get; init; }

    public string? Reference { get; init; }

    public string? Caption { get; init; }

    public required byte[] Hash { get; init; }

    public ReadOnlyMemory<byte> Raw { get; init; }

    public ReadOnlyMemory<byte> Values { get; init; }

    public byte[]? Children { get; init; }

    public string? Problems { get; init; }

    /// <summary>What stands around the record, kept once for all that share <see cref="Parent"/>; empty: nothing does.</summary>
    public ReadOnlyMemory<byte> RawParent { get; init; }
}
