using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What orders, buyers and refunds of one system became at another.</summary>
/// <param name="kind">Which of them.</param>
/// <param name="sourceId">The system that they come from.</param>
/// <param name="targetId">The system that they went to.</param>
internal sealed class CounterpartBook(RecordKind kind, string sourceId, string targetId) : ICreatedLinks
{
    /// <inheritdoc/>
    public async Task<string?> TargetOfAsync(NarbitContext db, string sourceKey, CancellationToken cancel) =>
        await Own(db).Where(c => c.SourceKey == sourceKey).Select(c => c.TargetKey).FirstOrDefaultAsync(cancel);

    /// <inheritdoc/>
    public async Task<string?> SourceOfAsync(NarbitContext db, string targetKey, CancellationToken cancel) =>
        await Own(db).Where(c => c.TargetKey == targetKey).Select(c => c.SourceKey).FirstOrDefaultAsync(cancel);

    /// <inheritdoc/>
    public async Task LinkAsync(NarbitContext db, CreatedPair created, DateTimeOffset now, CancellationToken cancel)
    {
        var kept = await TargetOfAsync(db, created.SourceKey, cancel);
        if (kept is null)
            await AddAsync(db, created, now, cancel);
        if (kind == RecordKind.Order)
            await OrderLedger.TakenAsync(db, sourceId, created.SourceKey, kept ?? created.TargetKey, now, cancel);
    }

    private async Task AddAsync(NarbitContext db, CreatedPair created, DateTimeOffset now, CancellationToken cancel)
    {
        db.Counterparts.Add(
            new Counterpart
            {
                Kind = kind,
                SourceId = sourceId,
                SourceKey = created.SourceKey,
                TargetId = targetId,
                TargetKey = created.TargetKey,
                RunId = created.RunId,
                At = now,
            }
        );
        await db.SaveChangesAsync(cancel);
    }

    /// <inheritdoc/>
    public async Task UnlinkAsync(NarbitContext db, Way way, string key, CancellationToken cancel) =>
        await Own(db).Where(c => way == Way.There ? c.TargetKey == key : c.SourceKey == key).ExecuteDeleteAsync(cancel);

    private IQueryable<Counterpart> Own(NarbitContext db) =>
        db.Counterparts.Where(c => c.Kind == kind && c.SourceId == sourceId && c.TargetId == targetId);
}
