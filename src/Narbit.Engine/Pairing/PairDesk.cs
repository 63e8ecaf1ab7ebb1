using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>What the pair desk does beside single decisions: reading and pairing anew, habits, closing lanes.</summary>
/// <param name="database">Where everything is kept.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="reader">How mirrors are read.</param>
/// <param name="pairing">What pairs.</param>
/// <param name="clock">The time.</param>
public sealed class PairDesk(Database database, AdapterSource adapters, MirrorReader reader, PairingStep pairing, TimeProvider clock)
{
    /// <summary>Opens a couple.</summary>
    public async Task<Outcome<OpenCouple>> OpenAsync(long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel);
        if (couple is null)
            return new Reason("couple.unknown", $"There is no pairing {coupleId}.");
        var hub = await adapters.ForAsync(couple.HubId, cancel);
        if (hub.Fault is { } noHub)
            return noHub;
        var other = await adapters.ForAsync(couple.OtherId, cancel);
        return other.Fault is { } noOther ? noOther : new OpenCouple(couple, hub.Value, other.Value);
    }

    /// <summary>The couples of the hub with every other system, made where they are missing, for each kind that both sides offer.</summary>
    public async Task<IReadOnlyList<Couple>> EnsureAllAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var hubId = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        if (hubId is null || (await adapters.ForAsync(hubId, cancel)) is not { Ok: true } hub)
            return [];
        var couples = new List<Couple>();
        foreach (var id in await db.Systems.Where(s => s.Id != hubId).OrderBy(s => s.Name).Select(s => s.Id).ToListAsync(cancel))
        {
            if ((await adapters.ForAsync(id, cancel)) is not { Ok: true } other)
                continue;
            foreach (var kind in RecordKind.All.Where(k => k.IsPaired))
                if (Offers(hub.Value, kind) && Offers(other.Value, kind))
                    couples.Add(await CoupleOf.EnsureAsync(database, hubId, id, kind, cancel));
        }

        return couples;

        static bool Offers(Connection connection, RecordKind kind) => connection.Adapter.Kinds.Any(k => k.Kind == kind);
    }

    /// <summary>Reads both sides and pairs anew.</summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="read">Whether to read both sides first.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<int>> PairAsync(long coupleId, bool read, CancellationToken cancel)
    {
        var opened = await OpenAsync(coupleId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var (couple, hub, other) = opened.Value;
        if (read)
        {
            foreach (var system in new[] { hub, other })
                if ((await reader.ReadAsync(system.System.Id, couple.Kind, full: false, cancel)).Fault is { } unread)
                    return unread;
        }

        return await pairing.PairAsync(hub, other, couple.Kind, cancel);
    }

    /// <summary>Pairs what two systems hold anew from the mirror, whichever of them is the hub, or both with the hub.</summary>
    public async Task<Reason?> PairBetweenAsync(RecordKind kind, string sourceId, string targetId, CancellationToken cancel)
    {
        IReadOnlyList<(string HubId, string OtherId)> ends;
        await using (var db = database.CreateDbContext())
            ends = await PairBook.ToPairAsync(db, sourceId, targetId, cancel);
        foreach (var (hubId, otherId) in ends)
        {
            var hub = await adapters.ForAsync(hubId, cancel);
            if (hub.Fault is { } noHub)
                return noHub;
            var other = await adapters.ForAsync(otherId, cancel);
            if (other.Fault is { } noOther)
                return noOther;
            await pairing.PairAsync(hub.Value, other.Value, kind, cancel);
        }

        return null;
    }

    /// <summary>Pairs every couple of a system anew from the mirror.</summary>
    public async Task PairAllOfAsync(string systemId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        foreach (var id in await db.Couples.Where(c => c.HubId == systemId || c.OtherId == systemId).Select(c => c.Id).ToListAsync(cancel))
            await PairAsync(id, read: false, cancel);
    }

    /// <summary>The way in which the other system writes SKUs, by what was decided; null where there is none or it is in force.</summary>
    public async Task<LearnedHabit?> LearnAsync(Couple couple, CancellationToken cancel)
    {
        if (couple.Kind != RecordKind.Item)
            return null;
        await using var db = database.CreateDbContext();
        var pairs = await (
            from link in db.Links
            join mine in db.Records
                on new
                {
                    SystemId = couple.HubId,
                    couple.Kind,
                    Key = link.HubKey,
                } equals new
                {
                    mine.SystemId,
                    mine.Kind,
                    mine.Key,
                }
            join theirs in db.Records
                on new
                {
                    SystemId = couple.OtherId,
                    couple.Kind,
                    Key = link.OtherKey,
                } equals new
                {
                    theirs.SystemId,
                    theirs.Kind,
                    theirs.Key,
                }
            where link.CoupleId == couple.Id && !link.IsKit && mine.Reference != null && theirs.Reference != null
            select new { Hub = mine.Reference!, Other = theirs.Reference! }
        ).ToListAsync(cancel);
        if (SkuHabit.Learn([.. pairs.Select(p => (p.Hub, p.Other))]) is not { } learned || learned.Habit == CoupleOf.Habit(couple))
            return null;
        var open = await db
            .Proposals.Where(p => p.CoupleId == couple.Id && p.OtherKey != null && (p.HubKey == null || p.Verdict != Verdict.Certain))
            .Join(
                db.Records.Where(r => r.SystemId == couple.OtherId && r.Kind == couple.Kind),
                p => p.OtherKey,
                r => r.Key,
                (_, r) => r.Reference
            )
            .ToListAsync(cancel);
        return new LearnedHabit(learned.Habit, learned.Shown, learned.Of, open.Count(sku => learned.Habit.Plain(sku) is not null));
    }

    /// <summary>The way in which the other system is known to write SKUs; null: none is.</summary>
    internal async Task<SkuHabit?> HabitAsync(long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == coupleId, cancel) is { } couple
            ? CoupleOf.Habit(couple)
            : null;
    }

    /// <summary>Takes a way of writing SKUs as a rule for the system, or takes the rule back, and pairs anew.</summary>
    public async Task<Outcome<int>> SetHabitAsync(long coupleId, SkuHabit? habit, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var changed = await db
            .Couples.Where(c => c.Id == coupleId)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(c => c.HabitBefore, habit == null ? null : habit.Before)
                        .SetProperty(c => c.HabitAfter, habit == null ? null : habit.After),
                cancel
            );
        return changed == 0
            ? new Reason("couple.unknown", $"There is no pairing {coupleId}.")
            : await PairAsync(coupleId, read: false, cancel);
    }

    /// <summary>Closes every lane between two systems while somebody pairs, or opens them again.</summary>
    /// <returns>The lanes whose state changed.</returns>
    public async Task<IReadOnlyList<string>> CloseAsync(Couple couple, bool close, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var lanes = await db
            .Lanes.Where(l =>
                (
                    (l.SourceId == couple.HubId && l.TargetId == couple.OtherId)
                    || (l.SourceId == couple.OtherId && l.TargetId == couple.HubId)
                )
                && (l.ClosedAt == null) == close
            )
            .ToListAsync(cancel);
        foreach (var lane in lanes)
            (lane.ClosedAt, lane.ClosedBy) = close ? (clock.GetUtcNow(), by) : ((DateTimeOffset?)null, (string?)null);
        await db.SaveChangesAsync(cancel);
        return [.. lanes.Select(l => l.Id)];
    }
}
