using Microsoft.Data.Sqlite;
using Narbit.Core;
using Narbit.Data.Mirror;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Reading;

/// <summary>
/// What a whole reading did not meet. It is gone when the system says so to a look-up, or when another whole reading does not meet it
/// either: an entry may be passed over where a list shifts under its reader.
/// </summary>
/// <param name="connection">The system.</param>
/// <param name="met">What the reading met.</param>
/// <param name="store">Where the mirror is.</param>
/// <param name="clock">The time.</param>
internal sealed class MissingRecords(Connection connection, MetRecords met, SqliteConnection store, TimeProvider clock)
{
    private const int AtOnce = 200;

    // Looking so many up costs less than reading everything again, whatever the list's pages.
    private const int FewRequests = 200;

    // Of more than can be looked up, so many are: a list that breaks off without a word leaves them all out.
    private const int Sampled = 20;

    /// <summary>Finds out what is gone and keeps it.</summary>
    /// <returns>Why that cannot be found out; null: it is.</returns>
    public async Task<Reason?> SettleAsync(MirrorRead read, CancellationToken cancel)
    {
        var unkept = met.Unkept.Select(u => u.Key).ToHashSet(StringComparer.Ordinal);
        var missing = (await MirrorStore.MissingAsync(store, read, StoredRecord.KeyHash, cancel))
            .Where(m => !unkept.Contains(m.Key))
            .ToList();
        List<MissingRecord> gone = [.. missing.Where(m => m.Before)];
        List<MissingRecord> missed = [.. missing.Where(m => !m.Before)];
        if (CanBeLookedUp(read, missed.Count))
        {
            var there = await ThereAsync(read, missed, cancel);
            if (there.Fault is { } unasked)
                return unasked;
            gone.AddRange(missed.Where(m => !there.Value.Contains(m.Key)));
            missed.Clear();
        }
        else if (met.Offered.LooksUp && await HollowAsync(read, [.. missed.Take(Sampled)], cancel) is { } hollow)
        {
            return hollow;
        }

        await MirrorStore.NoteMissingAsync(store, read, gone, missed, clock.GetUtcNow(), cancel);
        read.Gone = gone.Count;
        met.MissesSome = missed.Count > 0;
        return null;
    }

    private bool CanBeLookedUp(MirrorRead read, int count) =>
        met.Offered.LooksUp && count / met.Offered.LookedUpAtOnce <= Math.Max(read.Pages, FewRequests);

    private async Task<Reason?> HollowAsync(MirrorRead read, List<MissingRecord> sample, CancellationToken cancel)
    {
        var there = await ThereAsync(read, sample, cancel);
        if (there.Fault is { } unasked)
            return unasked;
        return there.Value.Count == 0
            ? null
            : new Reason(
                "read.hollow",
                $"The list of {connection.System.Name} leaves out {there.Value.First()} and others, which are there when they are asked "
                    + "for. Nothing was taken as gone; look at how its pages are described, then read again."
            );
    }

    // What is found is read on the way.
    private async Task<Outcome<HashSet<string>>> ThereAsync(MirrorRead read, List<MissingRecord> missed, CancellationToken cancel)
    {
        var there = new HashSet<string>(StringComparer.Ordinal);
        foreach (var some in missed.Select(m => m.Key).Chunk(AtOnce))
        {
            var found = await connection.Adapter.LookUpAsync(read.Kind, some, cancel);
            if (found.Fault is { } fault)
                return fault;
            there.UnionWith(found.Value.Select(r => r.Key));
            var entries = StoredRecord.Entries(found.Value, met.Offered.Fields);
            await MirrorStore.StoreAsync(store, connection.System.Id, read.Kind, entries, clock.GetUtcNow(), cancel);
        }

        return there;
    }
}
