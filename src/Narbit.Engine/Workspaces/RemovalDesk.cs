using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Workspaces;

/// <summary>Takes lanes and systems out of the work, and back into it. What they did stays readable.</summary>
/// <param name="database">Where they are kept.</param>
/// <param name="reader">What reads them.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class RemovalDesk(Database database, MirrorReader reader, LiveFeed live, TimeProvider clock)
{
    /// <summary>Removes a lane, unless it is at work; change sets that wait are not sent any more.</summary>
    /// <returns>Why it stays; null: it is removed.</returns>
    public async Task<Reason?> RemoveLaneAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Lanes.FirstOrDefaultAsync(l => l.Id == id, cancel) is not { } lane)
            return new Reason("lane.unknown", $"There is no lane “{id}”.");
        if (await AtWorkAsync(db, [lane], cancel) is { } busy)
            return busy;
        await RemoveAsync(db, [lane], clock.GetUtcNow(), cancel);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        live.Tell(new LiveEvent("lane", id));
        return null;
    }

    /// <summary>Brings a lane back as it was; it runs with its job again.</summary>
    /// <returns>Why it stays removed; null: it is back.</returns>
    public async Task<Reason?> BringLaneBackAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Lanes.IgnoreQueryFilters().FirstOrDefaultAsync(l => l.Id == id && l.RemovedAt != null, cancel) is not { } lane)
            return new Reason("lane.unknown", $"There is no removed lane “{id}”.");
        if (await db.Systems.CountAsync(s => s.Id == lane.SourceId || s.Id == lane.TargetId, cancel) < 2)
            return new Reason("removal.system", "One of its systems is removed. Bring that back first, under Systems.");
        lane.RemovedAt = null;
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("lane", id));
        return null;
    }

    /// <summary>What would go with a system.</summary>
    public async Task<Outcome<RemovalEffect>> EffectAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (!await db.Systems.AnyAsync(s => s.Id == id, cancel))
            return new Reason("system.unknown", $"There is no system “{id}”.");
        var lanes = await LanesOfAsync(db, id, cancel);
        var ids = lanes.Select(l => l.Id).ToList();
        return new RemovalEffect(
            [.. lanes.Select(l => l.Name ?? $"{LaneWorks.Of(l.Kind).Label}, {l.SourceId} to {l.TargetId}").Order(StringComparer.Ordinal)],
            await db.Records.CountAsync(r => r.SystemId == id && r.GoneAt == null, cancel),
            await db.Links.CountAsync(l => db.Couples.Any(c => c.Id == l.CoupleId && (c.HubId == id || c.OtherId == id)), cancel),
            await db.Runs.CountAsync(r => ids.Contains(r.LaneId) && r.State == RunState.Ready, cancel),
            await InTheWayAsync(db, id, lanes, cancel)
        );
    }

    /// <summary>Removes a system with its lanes, and forgets its credentials; records, pairs and what was written are kept.</summary>
    /// <returns>Why it stays; null: it is removed.</returns>
    public async Task<Reason?> RemoveSystemAsync(string id, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await db.Systems.FirstOrDefaultAsync(s => s.Id == id, cancel) is not { } system)
            return new Reason("system.unknown", $"There is no system “{id}”.");
        var lanes = await LanesOfAsync(db, id, cancel);
        if (await InTheWayAsync(db, id, lanes, cancel) is { } inTheWay)
            return inTheWay;
        reader.Stop(id, by);
        var now = clock.GetUtcNow();
        await RemoveAsync(db, lanes, now, cancel);
        system.RemovedAt = now;
        (system.ProtectedCredential, system.CredentialSetAt) = (null, null);
        (system.ProtectedGrant, system.GrantedAt, system.GrantLostWhy) = (null, null, null);
        (system.ProtectedHookSecret, system.ProtectedHookSecretBefore, system.HookSecretAt) = (null, null, null);
        system.Revision++;
        await db.Workspaces.Where(w => w.HubId == id).ExecuteUpdateAsync(s => s.SetProperty(w => w.HubId, (string?)null), cancel);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        live.Tell(new LiveEvent("system", id));
        return null;
    }

    /// <summary>Brings a system back with the lanes that went with it; its credentials have to be entered anew.</summary>
    /// <returns>Why it stays removed; null: it is back.</returns>
    public async Task<Reason?> BringSystemBackAsync(string id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Systems.IgnoreQueryFilters().FirstOrDefaultAsync(s => s.Id == id && s.RemovedAt != null, cancel) is not { } system)
            return new Reason("system.unknown", $"There is no removed system “{id}”.");
        var present = await db.Systems.Select(s => s.Id).ToListAsync(cancel);
        present.Add(id);
        // Those whose other system is removed too stay with it.
        var lanes = await db.Lanes.IgnoreQueryFilters().Where(l => l.RemovedAt == system.RemovedAt).ToListAsync(cancel);
        foreach (var lane in lanes.Where(l => present.Contains(l.SourceId) && present.Contains(l.TargetId)))
            lane.RemovedAt = null;
        system.RemovedAt = null;
        system.Revision++;
        if (present.Count == 1 && await db.Workspaces.FirstOrDefaultAsync(cancel) is { HubId: null } workspace)
            workspace.HubId = id;
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("system", id));
        return null;
    }

    private static Task<List<Lane>> LanesOfAsync(NarbitContext db, string system, CancellationToken cancel) =>
        db.Lanes.Where(l => l.SourceId == system || l.TargetId == system).ToListAsync(cancel);

    private static async Task<Reason?> InTheWayAsync(NarbitContext db, string id, List<Lane> lanes, CancellationToken cancel)
    {
        var isHub = await db.Workspaces.AnyAsync(w => w.HubId == id, cancel);
        return isHub && await db.Systems.CountAsync(cancel) > 1
            ? new Reason("removal.hub", "It is the hub that the others are kept in step with. Choose another hub under Settings first.")
            : await AtWorkAsync(db, lanes, cancel);
    }

    private static async Task<Reason?> AtWorkAsync(NarbitContext db, List<Lane> lanes, CancellationToken cancel)
    {
        var ids = lanes.Select(l => l.Id).ToList();
        var run = await db.Runs.FirstOrDefaultAsync(r => ids.Contains(r.LaneId) && r.State == RunState.Working, cancel);
        if (run is null)
            return null;
        var lane = lanes.First(l => l.Id == run.LaneId);
        return new Reason(
            "removal.atWork",
            $"{lane.Name ?? LaneWorks.Of(lane.Kind).Label} is at work (run {run.Id}). Stop the run or wait until it is done, then remove."
        );
    }

    private static async Task RemoveAsync(NarbitContext db, List<Lane> lanes, DateTimeOffset at, CancellationToken cancel)
    {
        foreach (var lane in lanes)
            lane.RemovedAt = at;
        var ids = lanes.Select(l => l.Id).ToList();
        await db
            .Runs.Where(r => ids.Contains(r.LaneId) && r.State == RunState.Ready)
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Superseded), cancel);
    }
}
