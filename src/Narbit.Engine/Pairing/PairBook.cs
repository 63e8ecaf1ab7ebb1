using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>
/// The one door to links. Links are kept between the hub and another system; this book alone knows which side is the hub, and lets
/// everybody else speak of source and target: from the hub, to the hub, or between two others through the items of the hub that both
/// are linked with.
/// </summary>
public sealed class PairBook : ICreatedLinks
{
    private readonly RecordKind _kind;

    // The hub's pairing with the source and with the target: from the hub there is only the latter, to the hub only the former.
    private readonly Couple? _source;
    private readonly Couple? _target;

    private PairBook(RecordKind kind, Couple? source, Couple? target)
    {
        _kind = kind;
        _source = source;
        _target = target;
    }

    /// <summary>Whether the two systems are paired at all.</summary>
    public bool Exists => _source is not null || _target is not null;

    /// <summary>The couples whose pairing the links come from, in the order in which they are passed.</summary>
    public IReadOnlyList<Couple> Couples => [.. new[] { _source, _target }.OfType<Couple>()];

    /// <summary>Whether the source is the hub.</summary>
    private bool FromHub => _source is null;

    /// <summary>Whether the target is the hub.</summary>
    private bool ToHub => _target is null;

    /// <summary>Opens the book for two systems.</summary>
    /// <param name="db">Where the links are.</param>
    /// <param name="kind">Items or customers.</param>
    /// <param name="sourceId">The source.</param>
    /// <param name="targetId">The target.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<PairBook> OpenAsync(
        NarbitContext db,
        RecordKind kind,
        string sourceId,
        string targetId,
        CancellationToken cancel
    )
    {
        var couples = await db
            .Couples.AsNoTracking()
            .Where(c => c.Kind == kind && (c.OtherId == sourceId || c.OtherId == targetId))
            .ToListAsync(cancel);
        Couple? Between(string hub, string other) => couples.Find(c => c.HubId == hub && c.OtherId == other);
        if (Between(sourceId, targetId) is { } outward)
            return new PairBook(kind, null, outward);
        if (Between(targetId, sourceId) is { } inward)
            return new PairBook(kind, inward, null);
        var through =
            from here in couples
            join there in couples on here.HubId equals there.HubId
            where here.OtherId == sourceId && there.OtherId == targetId
            select new PairBook(kind, here, there);
        return through.FirstOrDefault() ?? new PairBook(kind, null, null);
    }

    /// <summary>Which ends of the pairing of two systems the hub is at; what is to be paired before links can be made.</summary>
    /// <param name="db">Where the workspace is.</param>
    /// <param name="sourceId">One system.</param>
    /// <param name="targetId">The other.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The pairs of systems, the hub first; two where neither is the hub.</returns>
    public static async Task<IReadOnlyList<(string HubId, string OtherId)>> ToPairAsync(
        NarbitContext db,
        string sourceId,
        string targetId,
        CancellationToken cancel
    )
    {
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        return hub == targetId ? [(targetId, sourceId)]
            : hub is null || hub == sourceId ? [(sourceId, targetId)]
            : [(hub, sourceId), (hub, targetId)];
    }

    /// <summary>The links, kits among them; to be narrowed further by whoever asks.</summary>
    public IQueryable<RecordLink> Links(NarbitContext db)
    {
        if (!Exists)
            return db.Links.Where(l => false).Select(l => new RecordLink { SourceKey = l.HubKey, TargetKey = l.OtherKey });
        if (FromHub)
            return Of(db, _target!)
                .Select(l => new RecordLink
                {
                    Id = l.Id,
                    SourceKey = l.HubKey,
                    TargetKey = l.OtherKey,
                    Quantity = l.Quantity,
                    IsKit = l.IsKit,
                });
        // A kit is no item of the hub, nor of another store: what is written there is written by hand.
        if (ToHub)
            return Of(db, _source!)
                .Where(l => !l.IsKit)
                .Select(l => new RecordLink
                {
                    Id = l.Id,
                    SourceKey = l.OtherKey,
                    TargetKey = l.HubKey,
                    IsKit = l.IsKit,
                });
        return from here in Of(db, _source!)
            join there in Of(db, _target!) on here.HubKey equals there.HubKey
            where !here.IsKit && !there.IsKit
            select new RecordLink
            {
                Id = there.Id,
                SourceKey = here.OtherKey,
                TargetKey = there.OtherKey,
                IsKit = there.IsKit,
            };
    }

    /// <summary>
    /// The links by the target's record. A kit has several; any other record has one: where several records of the source share it, the
    /// one that was linked first speaks for it.
    /// </summary>
    /// <param name="db">Where the links are.</param>
    /// <param name="sources">The source's records that are wanted; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Dictionary<string, IReadOnlyList<RecordLink>>> ByTargetAsync(
        NarbitContext db,
        IReadOnlyCollection<string>? sources,
        CancellationToken cancel
    )
    {
        var wanted = Links(db);
        if (sources is not null)
        {
            // What else is linked with the same record there says who speaks for it.
            var targets = await Links(db).Where(l => sources.Contains(l.SourceKey)).Select(l => l.TargetKey).ToListAsync(cancel);
            wanted = wanted.Where(l => targets.Contains(l.TargetKey));
        }

        var links = await wanted.OrderBy(l => l.Id).ToListAsync(cancel);
        return links
            .GroupBy(l => l.TargetKey, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => (IReadOnlyList<RecordLink>)(g.First().IsKit ? [.. g] : [g.First()]), StringComparer.Ordinal);
    }

    /// <summary>The source's record that a record of the target is linked with; null where there is none, or it is a kit.</summary>
    public async Task<string?> SourceOfAsync(NarbitContext db, string targetKey, CancellationToken cancel) =>
        await Links(db)
            .Where(l => l.TargetKey == targetKey && !l.IsKit)
            .OrderBy(l => l.Id)
            .Select(l => l.SourceKey)
            .FirstOrDefaultAsync(cancel);

    /// <summary>The target's record that a source's record is linked with, kits left aside; of several the first.</summary>
    public async Task<string?> TargetOfAsync(NarbitContext db, string sourceKey, CancellationToken cancel) =>
        await Links(db)
            .Where(l => l.SourceKey == sourceKey && !l.IsKit)
            .OrderBy(l => l.Id)
            .Select(l => l.TargetKey)
            .FirstOrDefaultAsync(cancel);

    /// <summary>The source's records that somebody chose to be created at the target.</summary>
    public async Task<HashSet<string>> ToCreateAsync(NarbitContext db, CancellationToken cancel)
    {
        if (!Exists || (!FromHub && !ToHub))
            return [];
        var id = Couples[0].Id;
        var asides = db.SetAsides.Where(a => a.CoupleId == id && a.ToCreate);
        var keys = FromHub ? asides.Select(a => a.HubKey) : asides.Select(a => a.OtherKey);
        return [.. await keys.Where(k => k != null).Select(k => k!).ToListAsync(cancel)];
    }

    /// <summary>The target's records that are nothing new, though no link says so: kits, and what somebody set aside.</summary>
    public async Task<HashSet<string>> SettledThereAsync(NarbitContext db, CancellationToken cancel)
    {
        if (!Exists)
            return [];
        var id = Couples[^1].Id;
        var asides = db.SetAsides.Where(a => a.CoupleId == id);
        var keys = ToHub ? asides.Select(a => a.HubKey) : asides.Select(a => a.OtherKey);
        HashSet<string> settled = [.. await keys.Where(k => k != null).Select(k => k!).ToListAsync(cancel)];
        if (!ToHub)
            settled.UnionWith(await Of(db, _target!).Where(l => l.IsKit).Select(l => l.OtherKey).ToListAsync(cancel));
        return settled;
    }

    /// <summary>How many links there are.</summary>
    public Task<int> CountAsync(NarbitContext db, CancellationToken cancel) => Exists ? Links(db).CountAsync(cancel) : Task.FromResult(0);

    /// <summary>How many records wait to be paired: the target's, and the source's.</summary>
    public async Task<(int There, int Here)> UnpairedAsync(NarbitContext db, CancellationToken cancel)
    {
        if (!Exists)
            return (0, 0);
        var there = ToHub ? await HubAsync(_source!) : await OtherAsync(_target!);
        var here = FromHub ? await HubAsync(_target!) : await OtherAsync(_source!);
        return (there, here);

        Task<int> HubAsync(Couple of) => Waiting(of).CountAsync(p => p.HubKey != null, cancel);
        Task<int> OtherAsync(Couple of) => Waiting(of).CountAsync(p => p.OtherKey != null, cancel);
        IQueryable<PairProposal> Waiting(Couple of) => db.Proposals.Where(p => p.CoupleId == of.Id);
    }

    /// <summary>
    /// Links what was created, with the run as its evidence, within the caller's transaction; nothing where the record is linked already.
    /// </summary>
    public async Task LinkAsync(NarbitContext db, CreatedPair created, DateTimeOffset now, CancellationToken cancel)
    {
        if (await EndsAsync(db, created, cancel) is not { } ends)
            return;
        var (couple, hubKey, otherKey) = ends;
        if (await db.Links.AnyAsync(l => l.CoupleId == couple && l.OtherKey == otherKey, cancel))
            return;
        var decision = new PairDecision
        {
            CoupleId = couple,
            Act = DecisionAct.Accept,
            State = DecisionState.Committed,
            HubKey = hubKey,
            OtherKey = otherKey,
            Evidence = $"created by run {created.RunId}",
            Reference = created.Reference,
            Caption = created.Caption,
            By = created.By,
            At = now,
        };
        db.Decisions.Add(decision);
        await db.SaveChangesAsync(cancel);
        db.Links.Add(
            new PairLink
            {
                CoupleId = couple,
                HubKey = hubKey,
                OtherKey = otherKey,
                DecisionId = decision.Id,
            }
        );
        await db.SetAsides.Where(a => a.CoupleId == couple && (a.HubKey == hubKey || a.OtherKey == otherKey)).ExecuteDeleteAsync(cancel);
        await db.Proposals.Where(p => p.CoupleId == couple && (p.HubKey == hubKey || p.OtherKey == otherKey)).ExecuteDeleteAsync(cancel);
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>Takes the links of an ended record away.</summary>
    /// <param name="db">Where the links are.</param>
    /// <param name="way">Whether the target's or the source's record was ended.</param>
    /// <param name="key">The record.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task UnlinkAsync(NarbitContext db, Way way, string key, CancellationToken cancel)
    {
        var (couple, isHub) = way == Way.There ? (_target ?? _source, ToHub) : (_source ?? _target, FromHub);
        if (couple is null)
            return;
        var links = Of(db, couple);
        await (isHub ? links.Where(l => l.HubKey == key) : links.Where(l => l.OtherKey == key)).ExecuteDeleteAsync(cancel);
    }

    // Where a new link is kept: in the couple of the new record's own system.
    private async Task<(long Couple, string HubKey, string OtherKey)?> EndsAsync(
        NarbitContext db,
        CreatedPair created,
        CancellationToken cancel
    )
    {
        if (!Exists)
            return null;
        if (FromHub)
            return (_target!.Id, created.SourceKey, created.TargetKey);
        if (ToHub)
            return (_source!.Id, created.TargetKey, created.SourceKey);
        var hubKey = await Of(db, _source!)
            .Where(l => l.OtherKey == created.SourceKey && !l.IsKit)
            .Select(l => l.HubKey)
            .FirstOrDefaultAsync(cancel);
        return hubKey is null ? null : (_target!.Id, hubKey, created.TargetKey);
    }

    private static IQueryable<PairLink> Of(NarbitContext db, Couple of) => db.Links.AsNoTracking().Where(l => l.CoupleId == of.Id);

    /// <inheritdoc/>
    public override string ToString() => $"{_kind}: {string.Join(", ", Couples.Select(c => $"{c.HubId}–{c.OtherId}"))}";
}
