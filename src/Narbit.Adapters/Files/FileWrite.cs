namespace Narbit.Adapters.Files;

/// <summary>How records are written: as a file dropped in.</summary>
public sealed record FileWrite
{
    /// <summary>The files' names, with <c>{time}</c>.</summary>
    public required string File { get; init; }

    /// <summary>The key's column.</summary>
    public required string Key { get; init; }

    /// <summary>What stands between cells.</summary>
    public char Delimiter { get; init; } = ',';

    /// <summary>The encoding by its IANA name.</summary>
    public string Encoding { get; init; } = "utf-8";

    /// <summary>The most records in a file.</summary>
    public int BatchSize { get; init; } = 500;

    /// <summary>
    /// The lowest number that a new record may get as its key; null: records cannot be created. They get the next number that is free.
    /// </summary>
    public long? NewKeysFrom { get; init; }
}
