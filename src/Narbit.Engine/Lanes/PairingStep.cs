using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Data.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>Pairs the mirrored items of two systems by SKU and keeps the result.</summary>
/// <param name="database">Where the mirror and the pairs are.</param>
public sealed class PairingStep(Database database)
{
    /// <summary>Pairs anew.</summary>
    /// <param name="hub">The hub.</param>
    /// <param name="other">The other system.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>How many records are paired.</returns>
    public async Task<int> PairAsync(ConnectedSystem hub, ConnectedSystem other, CancellationToken cancel)
    {
        var mirror = new MirrorStore(database);
        var (left, right) = (await RowsAsync(hub.Id), await RowsAsync(other.Id));
        var pairs = SkuPairing.Pair(
            [.. left.Values.Select(r => new SkuRecord(r.Key, r.Sku))], [.. right.Values.Select(r => new SkuRecord(r.Key, r.Sku))], hub.Name, other.Name);
        await new PairStore(database).ReplaceAsync(hub.Id, other.Id, [.. pairs.Select(p =>
        {
            var row = p.LeftKey is { } l ? left[l] : right[p.RightKey!];
            return (p, row.Sku, row.Title);
        })], cancel);
        return pairs.Count(p => p is { LeftKey: not null, RightKey: not null });

        async Task<Dictionary<string, (string Key, string? Sku, string? Title)>> RowsAsync(string systemId)
        {
            var rows = new Dictionary<string, (string, string?, string?)>(StringComparer.Ordinal);
            await foreach (var row in mirror.RowsAsync(systemId, RecordKind.Item, cancel)) rows[row.Key] = (row.Key, row.Sku, row.Title);
            return rows;
        }
    }
}
