using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Narbit.Data.Sqlite;

namespace Narbit.Data.Orders;

/// <summary>Keeps where very many orders stand.</summary>
/// <param name="database">Where.</param>
public sealed class StandingStore(Database database)
{
    // So many are asked for by their keys; of more most are there.
    private const int Some = 500;

    private sealed record Kept(long Id, OrderStage Stage, string Fingerprint);

    /// <summary>Keeps where orders of a lane stand. Most stand as they did; only those that moved are written.</summary>
    /// <returns>How many stand elsewhere than before, or for other causes.</returns>
    public async Task<int> StoreAsync(string laneId, IReadOnlyList<OrderStanding> computed, CancellationToken cancel)
    {
        var only = computed.Count < Some ? computed.Select(s => s.SourceKey).ToList() : null;
        await using var db = database.CreateDbContext();
        var kept = await db
            .OrderStandings.AsNoTracking()
            .Where(o => o.LaneId == laneId && (only == null || only.Contains(o.SourceKey)))
            .Select(o => new { o.SourceKey, Kept = new Kept(o.Id, o.Stage, o.Fingerprint) })
            .ToDictionaryAsync(o => o.SourceKey, o => o.Kept, StringComparer.Ordinal, cancel);
        var changed = computed.Where(s => kept.GetValueOrDefault(s.SourceKey)?.Fingerprint != s.Fingerprint).ToList();
        var moved = await MovedAsync(db, changed, kept, cancel);
        await WriteAsync(changed, cancel);
        return moved;
    }

    private static async Task<int> MovedAsync(
        NarbitContext db,
        List<OrderStanding> changed,
        Dictionary<string, Kept> kept,
        CancellationToken cancel
    )
    {
        var moved = 0;
        foreach (var some in changed.Chunk(Some))
        {
            var ids = some.Select(s => kept.GetValueOrDefault(s.SourceKey)?.Id ?? 0).ToList();
            var causes = await db.StandingCauses.AsNoTracking().Where(c => ids.Contains(c.StandingId)).ToListAsync(cancel);
            var codes = causes.ToLookup(c => c.StandingId, c => c.Code);
            moved += some.Count(s =>
                kept.GetValueOrDefault(s.SourceKey) is not { } old
                || old.Stage != s.Stage
                || !codes[old.Id].ToHashSet().SetEquals(s.Causes.Select(c => c.Code))
            );
        }

        return moved;
    }

    private async Task WriteAsync(List<OrderStanding> changed, CancellationToken cancel)
    {
        if (changed.Count == 0)
            return;
        await using var connection = await database.OpenAsync(bulk: false, cancel);
        await new ShortSteps(connection).ForEachAsync(changed, transaction => new Writer(database.Model, connection, transaction), cancel);
    }

    private sealed class Writer(IModel model, SqliteConnection connection, SqliteTransaction transaction) : IRowWriter<OrderStanding>
    {
        private readonly EntityInsert<OrderStanding> _standing = new(
            model,
            connection,
            transaction,
            nameof(OrderStanding.LaneId),
            nameof(OrderStanding.SourceKey)
        );

        private readonly Statement[] _forget =
        [
            .. new[] { nameof(NarbitContext.OrderSkus), nameof(NarbitContext.OrderGoods), nameof(NarbitContext.StandingCauses) }.Select(
                t => new Statement(connection, transaction, $"DELETE FROM \"{t}\" WHERE StandingId = $id", "$id")
            ),
        ];

        private readonly EntityInsert<OrderSku> _sku = new(model, connection, transaction);
        private readonly EntityInsert<OrderGoods> _goods = new(model, connection, transaction);
        private readonly EntityInsert<StandingCause> _cause = new(model, connection, transaction);

        public void Put(OrderStanding row)
        {
            _standing.Put(row);
            foreach (var statement in _forget)
                statement.Execute(row.Id);
            foreach (var sku in row.Skus)
                sku.StandingId = row.Id;
            foreach (var goods in row.Goods)
                goods.StandingId = row.Id;
            foreach (var (position, cause) in row.Causes.Index())
                (cause.StandingId, cause.Position) = (row.Id, position);
            row.Skus.ForEach(_sku.Put);
            row.Goods.ForEach(_goods.Put);
            row.Causes.ForEach(_cause.Put);
        }

        public void Dispose()
        {
            _standing.Dispose();
            _sku.Dispose();
            _goods.Dispose();
            _cause.Dispose();
            Array.ForEach(_forget, s => s.Dispose());
        }
    }
}
