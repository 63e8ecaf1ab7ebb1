namespace Narbit.Adapters;

/// <summary>An entry of a list that cannot be kept as a record.</summary>
/// <param name="Code">Why, for programs: <see cref="NoKey"/>, <see cref="KeyTwice"/> or <see cref="Unreadable"/>.</param>
/// <param name="Key">Its key; null: it has none.</param>
/// <param name="Words">Why, for people.</param>
/// <param name="Raw">As the system sent it, JSON; bytes that are no text may stand in it.</param>
public sealed record UnkeptRecord(string Code, string? Key, string Words, ReadOnlyMemory<byte> Raw)
{
    /// <summary>It has no key.</summary>
    public const string NoKey = "record.noKey";

    /// <summary>Another record of the same reading has its key.</summary>
    public const string KeyTwice = "record.keyTwice";

    /// <summary>It cannot be read at all.</summary>
    public const string Unreadable = "record.unreadable";

    /// <summary>The other record with its key; empty: there is none.</summary>
    public ReadOnlyMemory<byte> Other { get; init; }
}
