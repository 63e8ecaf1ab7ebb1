namespace Narbit.Data.Mirror;

/// <summary>The keys that one page of a full read held, hashed; so that a read that was cut off still knows what it has seen.</summary>
public sealed class MirrorReadPage
{
    public long ReadId { get; set; }

    public int Number { get; set; }

    /// <summary>XXH64 of each key, 8 bytes each.</summary>
    public required byte[] Keys { get; set; }
}
