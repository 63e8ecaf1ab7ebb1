using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Search;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Searching;

/// <summary>Brings the index by which records are found up to date with the mirror.</summary>
/// <param name="database">Where both are.</param>
/// <param name="adapters">How systems are described: which of their fields is a barcode.</param>
/// <param name="clock">The time.</param>
public sealed class SearchIndex(Database database, AdapterSource adapters, TimeProvider clock)
{
    private const int Portion = 2000;

    // A page of a reading is stamped before it is stored; what was stamped shortly before is looked at once more.
    private static readonly TimeSpan Overlap = TimeSpan.FromMinutes(1);

    private readonly SearchStore _store = new(database);

    /// <summary>Takes in what has changed since the last time; the first time everything.</summary>
    /// <returns>How many records were taken in.</returns>
    public async Task<int> CatchUpAsync(CancellationToken cancel)
    {
        var begun = clock.GetUtcNow();
        var since = Math.Max(0, await _store.UpToAsync(cancel) - Overlap.Ticks);
        var barcodes = new Dictionary<(string, string), string?>();
        var (after, taken) = ((ChangedAt: 0L, Id: 0L), 0);
        while (await _store.ChangedAsync(since, after, Portion, cancel) is { Count: > 0 } changed)
        {
            var words = new List<FoundAs>(changed.Count);
            foreach (var record in changed)
                words.Add(new FoundAs(record.Id, Words(record, await BarcodeAsync(barcodes, record, cancel))));
            await _store.PutAsync(words, cancel);
            after = (changed[^1].ChangedAt, changed[^1].Id);
            taken += changed.Count;
        }

        await _store.CompleteAsync(begun.UtcTicks, cancel);
        return taken;
    }

    private async Task<string?> BarcodeAsync(Dictionary<(string, string), string?> known, ToIndex record, CancellationToken cancel)
    {
        var of = (record.SystemId, record.Kind);
        if (!known.TryGetValue(of, out var field))
        {
            var connection = await adapters.ForAsync(record.SystemId, cancel);
            var kind = connection.ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind.ToString() == record.Kind);
            known[of] = field = kind?.Fields.Find(FieldRole.Barcode)?.Name;
        }

        return field is null ? null : StoredRecord.Values(record.Values).GetValueOrDefault(field);
    }

    // Everything that somebody may call it by, apart so that no text reaches over two of them.
    private static string Words(ToIndex record, string? barcode) =>
        string.Join('\n', new[] { record.Reference, record.Key, barcode, record.Caption }.OfType<string>());
}
