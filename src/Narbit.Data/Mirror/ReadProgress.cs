namespace Narbit.Data.Mirror;

/// <summary>How far a reading has come, once what it read is stored.</summary>
public sealed record ReadProgress
{
    public string? Cursor { get; init; }

    public int Pages { get; init; }

    public int Records { get; init; }

    public int Listed { get; init; }

    public int? Total { get; init; }

    public int Troubled { get; init; }

    public bool Moved { get; init; }

    public DateTimeOffset? AsOf { get; init; }

    public DateTimeOffset? NewestChange { get; init; }

    public int Unkept { get; init; }

    public string? UnkeptFirst { get; init; }

    /// <summary>Where a reading is.</summary>
    public static ReadProgress Of(MirrorRead read) =>
        new()
        {
            Cursor = read.Cursor,
            Pages = read.Pages,
            Records = read.Records,
            Listed = read.Listed,
            Total = read.Total,
            Troubled = read.Troubled,
            Moved = read.Moved,
            AsOf = read.AsOf,
            NewestChange = read.NewestChange,
            Unkept = read.Unkept,
            UnkeptFirst = read.UnkeptFirst,
        };

    /// <summary>Says so of a reading; only what is stored is said.</summary>
    public void PutInto(MirrorRead read)
    {
        (read.Cursor, read.Pages, read.Records, read.Listed) = (Cursor, Pages, Records, Listed);
        (read.Total, read.Troubled, read.Moved) = (Total, Troubled, Moved);
        (read.AsOf, read.NewestChange) = (AsOf, NewestChange);
        (read.Unkept, read.UnkeptFirst) = (Unkept, UnkeptFirst);
    }
}
