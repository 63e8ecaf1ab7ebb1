using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Search;

namespace Narbit.Engine.Searching;

/// <summary>
/// Finds records of all systems by SKU, barcode, key or name: first those that have every word, then, where there are few, those whose
/// name is nearly it, so that slips do not matter.
/// </summary>
/// <param name="database">Where the mirror and its index are.</param>
public sealed class RecordSearch(Database database)
{
    private const int Shortest = 3;

    private static readonly string[] Kinds = [nameof(RecordKind.Item), nameof(RecordKind.Customer), nameof(RecordKind.Order)];
    private const int FewerThan = 8;

    // Of what is only like it, this share of the trigrams must be there, and nearly as many as in the one that is most like it.
    private const double LeastLike = 0.34;
    private const double NearlyAsLike = 0.8;

    private readonly SearchStore _store = new(database);

    /// <summary>The records that some words find, the best first.</summary>
    /// <param name="text">The words.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<FoundRecords> FindAsync(string text, int most, CancellationToken cancel)
    {
        var wanted = text.Trim();
        if (wanted.Length == 0)
            return new FoundRecords([], false);
        await using var db = database.CreateDbContext();
        var found = new List<MirrorRecord>();
        // Whoever types a whole SKU or key means just that.
        var systems = await db.Systems.OrderBy(s => s.Id).Select(s => s.Id).ToListAsync(cancel);
        await AddAsync(db, found, await _store.NamedAsync(wanted, systems, Kinds, cancel), _ => true, most, cancel);
        string[] words = [.. wanted.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(w => w.Length >= Shortest)];
        if (words.Length > 0)
            await AddAsync(db, found, await _store.WithAllAsync(words, most, cancel), _ => true, most, cancel);
        var isLike = found.Count == 0;
        if (found.Count < FewerThan && wanted.Length >= Shortest)
        {
            var like = await _store.LikeAsync(wanted.ToLowerInvariant(), most * 3, cancel);
            var parts = Trigrams(wanted);
            await AddAsync(db, found, like, r => Likeness(parts, r) >= LeastLike, most, cancel, r => Likeness(parts, r));
        }

        return new FoundRecords(found, isLike);
    }

    private static async Task AddAsync(
        NarbitContext db,
        List<MirrorRecord> found,
        IReadOnlyList<long> ids,
        Func<MirrorRecord, bool> fits,
        int most,
        CancellationToken cancel,
        Func<MirrorRecord, double>? rank = null
    )
    {
        var records = await db
            .Records.AsNoTracking()
            .Where(r => ids.Contains(r.Id) && r.GoneAt == null && r.Kind != RecordKind.StockLevel)
            .ToDictionaryAsync(r => r.Id, cancel);
        var known = found.Select(r => r.Id).ToHashSet();
        var inOrder = ids.Where(id => records.ContainsKey(id) && !known.Contains(id)).Select(id => records[id]).Where(fits);
        if (rank is not null)
        {
            var ranked = inOrder.Select(r => (Record: r, Rank: rank(r))).OrderByDescending(r => r.Rank).ToList();
            inOrder = ranked.TakeWhile(r => r.Rank >= ranked[0].Rank * NearlyAsLike).Select(r => r.Record);
        }

        found.AddRange(inOrder.Take(most - Math.Min(most, found.Count)));
    }

    // The share of the wanted trigrams that a record has (an overlap of sets, as with shingles).
    private static double Likeness(HashSet<string> wanted, MirrorRecord record)
    {
        var there = Trigrams($"{record.Reference} {record.Caption}");
        return wanted.Count == 0 ? 0 : (double)wanted.Count(there.Contains) / wanted.Count;
    }

    private static HashSet<string> Trigrams(string text)
    {
        var lower = text.ToLowerInvariant();
        var trigrams = new HashSet<string>(StringComparer.Ordinal);
        for (var i = 0; i + Shortest <= lower.Length; i++)
            trigrams.Add(lower.Substring(i, Shortest));
        return trigrams;
    }
}
