using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Runs;

namespace Narbit.Engine.Reading;

/// <summary>What values of records were, when, and who or what set them.</summary>
/// <param name="db">The database.</param>
public sealed class HistoryBook(NarbitContext db)
{
    /// <summary>An item and the records that belong to it, e.g. its stock levels; empty where the mirror does not have it.</summary>
    public async Task<IReadOnlyList<KeptRecord>> RecordsAsync(string systemId, string key, CancellationToken cancel)
    {
        var records = db.Records.AsNoTracking().Where(r => r.SystemId == systemId);
        var item = await records.FirstOrDefaultAsync(r => r.Kind == RecordKind.Item && r.Key == key, cancel);
        if (item is null)
            return [];
        var parts = await records.Where(r => r.Kind == RecordKind.StockLevel && r.Parent == key).OrderBy(r => r.Id).ToListAsync(cancel);
        var created = await Writes()
            .Where(x => x.Write.Act == WriteAct.Create && x.Write.State == WriteState.Confirmed)
            .Where(x =>
                (x.Lane.TargetId == systemId && x.Write.Way == Way.There && x.Write.TargetKey == key)
                || (x.Lane.SourceId == systemId && x.Write.Way == Way.Back && x.Write.SourceKey == key)
            )
            .FirstOrDefaultAsync(cancel);
        return [new KeptRecord(item, created), .. parts.Select(p => new KeptRecord(p, null))];
    }

    /// <summary>The changes of some records that were seen, newest first.</summary>
    /// <param name="records">The records.</param>
    /// <param name="field">The field; null: all of them.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<IReadOnlyList<KnownChange>> ChangesAsync(
        IReadOnlyList<MirrorRecord> records,
        string? field,
        int most,
        CancellationToken cancel
    )
    {
        var changes = new List<ValueChange>();
        foreach (var record in records)
            changes.AddRange(
                await Of(record).Where(v => field == null || v.Field == field).OrderByDescending(v => v.Id).Take(most).ToListAsync(cancel)
            );
        return await KnownAsync([.. changes.OrderByDescending(v => v.Id).Take(most)], cancel);
    }

    /// <summary>What each field of a record was at an instant, told by its changes; fields that never changed are left out.</summary>
    public async Task<IReadOnlyDictionary<string, (KnownChange? Before, KnownChange? After)>> AroundAsync(
        MirrorRecord record,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        var before = await Of(record).Where(v => v.At <= at).GroupBy(v => v.Field).Select(g => g.Max(v => v.Id)).ToListAsync(cancel);
        var after = await Of(record).Where(v => v.At > at).GroupBy(v => v.Field).Select(g => g.Min(v => v.Id)).ToListAsync(cancel);
        long[] ids = [.. before, .. after];
        var known = await KnownAsync(
            await db.ValueChanges.AsNoTracking().Where(v => ids.Contains(v.Id)).OrderBy(v => v.Id).ToListAsync(cancel),
            cancel
        );
        return known
            .GroupBy(k => k.Change.Field, StringComparer.Ordinal)
            .ToDictionary(
                g => g.Key,
                g => (g.FirstOrDefault(k => k.Change.At <= at), g.FirstOrDefault(k => k.Change.At > at)),
                StringComparer.Ordinal
            );
    }

    private IQueryable<ValueChange> Of(MirrorRecord record) =>
        db.ValueChanges.AsNoTracking().Where(v => v.SystemId == record.SystemId && v.Kind == record.Kind && v.Key == record.Key);

    private async Task<IReadOnlyList<KnownChange>> KnownAsync(List<ValueChange> changes, CancellationToken cancel)
    {
        long[] ids = [.. changes.Select(c => c.WriteId).OfType<long>().Distinct()];
        var writes = await Writes().Where(x => ids.Contains(x.Write.Id)).ToDictionaryAsync(x => x.Write.Id, cancel);
        return [.. changes.Select(c => new KnownChange(c, c.WriteId is { } id ? writes.GetValueOrDefault(id) : null))];
    }

    private IQueryable<OwnWrite> Writes() =>
        from w in db.Writes.AsNoTracking()
        join r in db.Runs on w.RunId equals r.Id
        join l in db.Lanes.IgnoreQueryFilters() on r.LaneId equals l.Id
        select new OwnWrite
        {
            Write = w,
            Run = r,
            Lane = l,
        };
}
