using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>One reading of a record kind, page by page. A reading that was cut off goes on at its cursor.</summary>
public sealed class MirrorRead
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    /// <summary>Only what changed since; null: everything.</summary>
    public DateTimeOffset? Since { get; set; }

    /// <summary>The page to ask for next; null before the first and after the last.</summary>
    public string? Cursor { get; set; }

    public ReadState State { get; set; }

    public int Pages { get; set; }

    public int Records { get; set; }

    /// <summary>Entries of the system's own list that were read.</summary>
    public int Listed { get; set; }

    /// <summary>Entries the system says the list has.</summary>
    public int? Total { get; set; }

    public int Changed { get; set; }

    public int Gone { get; set; }

    /// <summary>Records with a value that could not be read.</summary>
    public int Troubled { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    public DateTimeOffset? EndedAt { get; set; }

    public string? Message { get; set; }

    /// <summary>Whether the list changed while it was read, so that an entry may have been passed over or met twice.</summary>
    public bool Moved { get; set; }

    /// <summary>When it was begun by the system's own clock; null: the system does not say.</summary>
    public DateTimeOffset? AsOf { get; set; }

    /// <summary>The latest change that any reading so far has met, as the system says; null: it does not say.</summary>
    public DateTimeOffset? NewestChange { get; set; }

    /// <summary>How many entries could not be kept as records.</summary>
    public int Unkept { get; set; }

    /// <summary>The first of the entries that could not be kept, JSON; null: all could.</summary>
    public string? UnkeptFirst { get; set; }
}
