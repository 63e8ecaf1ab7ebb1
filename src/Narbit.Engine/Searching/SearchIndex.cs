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
    // So many are stored in one go: whoever else has to write waits for no more than that.
    private const int Portion = 500;

    // A page of a reading is stamped before it is stored; what was stamped shortly before is looked for once more.
    private static readonly TimeSpan Overlap = TimeSpan.FromMinutes(1);

    private readonly SearchStore _store = new(database);

    // What was stamped lately and is taken in, with its stamp: it is met again, and need not be taken in again.
    private readonly Dictionary<long, long> _taken = [];

    /// <summary>Takes in what has changed since the last time; the first time everything.</summary>
    /// <returns>How many records were taken in.</returns>
    public async Task<int> CatchUpAsync(CancellationToken cancel)
    {
        var begun = clock.GetUtcNow();
        var since = Math.Max(0, await _store.UpToAsync(cancel) - Overlap.Ticks);
        var changed = (await _store.ChangedAsync(since, cancel)).Where(IsNew).ToList();
        var barcodes = new Dictionary<(string, string), string?>();
        foreach (var portion in changed.Chunk(Portion))
        {
            var started = clock.GetTimestamp();
            await TakeAsync(portion, barcodes, cancel);
            // SQLite has one writer at a time, and one that never rests keeps the others out.
            if (portion.Length == Portion)
                await Task.Delay(clock.GetElapsedTime(started), clock, cancel);
        }

        await _store.CompleteAsync(begun.UtcTicks, cancel);
        Forget((begun - Overlap).UtcTicks);
        return changed.Count;
    }

    private bool IsNew(Stamp record) => !_taken.TryGetValue(record.RecordId, out var stamp) || stamp != record.ChangedAt;

    private void Forget(long beforeTicks)
    {
        foreach (var (record, stamp) in _taken)
            if (stamp < beforeTicks)
                _taken.Remove(record);
    }

    private async Task TakeAsync(Stamp[] portion, Dictionary<(string, string), string?> barcodes, CancellationToken cancel)
    {
        var words = new List<FoundAs>(portion.Length);
        foreach (var record in await _store.ReadAsync(portion.Select(s => s.RecordId), cancel))
            words.Add(new FoundAs(record.Id, Words(record, await BarcodeAsync(barcodes, record, cancel))));
        await _store.PutAsync(words, cancel);
        foreach (var stamp in portion)
            _taken[stamp.RecordId] = stamp.ChangedAt;
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
