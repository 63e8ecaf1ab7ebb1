using Microsoft.Data.Sqlite;
using Narbit.Core.Records;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>Pages that are stored in one transaction. The reading moves on once they are stored, and not before.</summary>
/// <param name="read">The reading.</param>
/// <param name="met">What it has met so far.</param>
internal sealed class PiledPages(MirrorRead read, MetRecords met)
{
    private readonly Dictionary<RecordKind, List<MirrorEntry>> _beside = [];
    private ReadProgress _progress = ReadProgress.Of(read);

    /// <summary>The records of the reading's own kind.</summary>
    public List<MirrorEntry> Own { get; } = [];

    public void Add(FetchedPage fetched)
    {
        var kept = met.Kept(fetched);
        Own.AddRange(kept);
        foreach (var (kind, entries) in fetched.Beside)
        {
            if (!_beside.TryGetValue(kind, out var had))
                _beside[kind] = had = [];
            had.AddRange(entries);
        }

        _progress = _progress with
        {
            Cursor = fetched.Next,
            Pages = _progress.Pages + 1,
            Records = _progress.Records + kept.Count,
            Listed = _progress.Listed + fetched.Listed,
            Total = fetched.Total ?? _progress.Total,
            Troubled = _progress.Troubled + kept.Count(e => e.Problems is not null),
            Moved = _progress.Moved || (_progress.Total is { } before && fetched.Total is { } now && now != before),
            AsOf = _progress.AsOf ?? fetched.AnsweredAt,
            NewestChange = Later(_progress.NewestChange, fetched.NewestChange),
            Unkept = met.Unkept.Count,
            UnkeptFirst = met.FirstUnkept(),
        };
    }

    /// <summary>Adds records that were held back until the end.</summary>
    public void AddLate(IReadOnlyList<MirrorEntry> entries)
    {
        Own.AddRange(entries);
        _progress = _progress with
        {
            Pages = _progress.Pages + 1,
            Records = _progress.Records + entries.Count,
            Unkept = met.Unkept.Count,
            UnkeptFirst = met.FirstUnkept(),
        };
    }

    /// <summary>Stores them, and how far the reading has come.</summary>
    public async Task StoreAsync(SqliteConnection store, bool empty, DateTimeOffset now, CancellationToken cancel)
    {
        if (_progress != ReadProgress.Of(read))
            await MirrorStore.StorePageAsync(store, read, _progress, Own, _beside, empty, now, cancel);
    }

    private static DateTimeOffset? Later(DateTimeOffset? one, DateTimeOffset? other) => one is null || other > one ? other ?? one : one;
}
