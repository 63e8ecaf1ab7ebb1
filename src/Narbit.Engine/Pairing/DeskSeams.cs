using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Pairing;

/// <summary>What is seen of two records at the pair desk, and the search for a partner.</summary>
/// <param name="desk">Opens couples.</param>
/// <param name="database">Where pairs and records are.</param>
public sealed class DeskSeams(PairDesk desk, Database database)
{
    /// <summary>Two records side by side, what speaks for and against the pair, and who else could be meant.</summary>
    /// <param name="id">The couple.</param>
    /// <param name="hub">The hub's record; null: none.</param>
    /// <param name="other">The other system's; null: none.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<DeskSeam>> SeamAsync(long id, string? hub, string? other, CancellationToken cancel)
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var (couple, hubSystem, otherSystem) = opened.Value;
        await using var db = database.CreateDbContext();
        var (mine, theirs) = (await FindAsync(couple.HubId, hub), await FindAsync(couple.OtherId, other));
        FieldSet Fields(Systems.Connection connection) => connection.Adapter.Kinds.First(k => k.Kind == couple.Kind).Fields;
        var rows = Seam.Whole(Fields(hubSystem), Values(mine), Fields(otherSystem), Values(theirs));
        var proposal = hub is not null
            ? await db.Proposals.AsNoTracking().FirstOrDefaultAsync(p => p.CoupleId == id && p.HubKey == hub, cancel)
            : await db
                .Proposals.AsNoTracking()
                .FirstOrDefaultAsync(p => p.CoupleId == id && p.HubKey == null && p.OtherKey == other, cancel);
        var link = other is null
            ? null
            : await db.Links.AsNoTracking().Where(l => l.CoupleId == id && l.OtherKey == other).ToListAsync(cancel);
        var candidates = proposal is null ? [] : PairJson.Candidates(proposal.Candidates).ToList();
        // The proposed partner is the first candidate, with its own evidence.
        if (proposal is { HubKey: not null, OtherKey: not null })
            candidates.Insert(0, new KeptCandidate(proposal.OtherKey, proposal.Confidence, false, PairJson.Evidence(proposal.Evidence)));
        var across = proposal?.HubKey is not null ? other : hub;
        var evidence = candidates.Find(c => c.Key == across)?.Evidence ?? (proposal is null ? [] : PairJson.Evidence(proposal.Evidence));
        if (link is { Count: > 0 })
        {
            var decisionId = link[0].DecisionId;
            var decision = await db.Decisions.AsNoTracking().FirstAsync(d => d.Id == decisionId, cancel);
            evidence =
            [
                new Evidence(EvidenceKind.Earlier, EvidenceEffect.For, $"{decision.By} decided this on {decision.At:yyyy-MM-dd HH:mm} UTC"),
                new Evidence(EvidenceKind.Earlier, EvidenceEffect.Neutral, decision.Evidence),
            ];
        }

        var candidateSystem = proposal?.HubKey is not null ? couple.OtherId : couple.HubId;
        var keys = candidates.Select(c => c.Key).ToList();
        var named = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == candidateSystem && r.Kind == couple.Kind && keys.Contains(r.Key))
            .ToDictionaryAsync(r => r.Key, cancel);
        var candidateFields = Fields(candidateSystem == couple.HubId ? hubSystem : otherSystem);
        return new DeskSeam(
            View(mine),
            View(theirs),
            rows,
            evidence,
            [
                .. candidates.Select(c => new CandidateView(
                    c.Key,
                    named.GetValueOrDefault(c.Key)?.Reference,
                    named.GetValueOrDefault(c.Key)?.Caption,
                    candidateFields.Text(Values(named.GetValueOrDefault(c.Key)), FieldRole.Option),
                    c.Confidence,
                    c.Taken,
                    c.Evidence
                )),
            ],
            link is [{ IsKit: true }, ..] ? [.. link.Select(l => new KitItem(l.HubKey, l.Quantity))] : []
        );

        async Task<MirrorRecord?> FindAsync(string systemId, string? key) =>
            key is null
                ? null
                : await db
                    .Records.AsNoTracking()
                    .FirstOrDefaultAsync(r => r.SystemId == systemId && r.Kind == couple.Kind && r.Key == key, cancel);
        static IReadOnlyDictionary<string, string> Values(MirrorRecord? record) =>
            record is null ? new Dictionary<string, string>() : StoredRecord.Values(record.Values);
        static SideRecordView? View(MirrorRecord? r) =>
            r is null ? null : new SideRecordView(r.Key, r.Reference, r.Caption, r.GoneAt is not null, StoredRecord.Problems(r.Problems));
    }

    /// <summary>Searches the whole of one side.</summary>
    /// <param name="id">The couple.</param>
    /// <param name="onHub">Whether the hub's side is searched.</param>
    /// <param name="text">Words, all of which must be somewhere; a whole key or SKU comes first.</param>
    /// <param name="window">Which piece of what is found.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<Slice<FoundRecord>>> SearchAsync(long id, bool onHub, string? text, Window window, CancellationToken cancel)
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var couple = opened.Value.Couple;
        var fields = (onHub ? opened.Value.Hub : opened.Value.Other).Adapter.Kinds.First(k => k.Kind == couple.Kind).Fields;
        var systemId = onHub ? couple.HubId : couple.OtherId;
        await using var db = database.CreateDbContext();
        var records = db.Records.AsNoTracking().Where(r => r.SystemId == systemId && r.Kind == couple.Kind && r.GoneAt == null);
        // Every word must be somewhere.
        foreach (var word in (text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Take(6))
        {
            var like = Window.Like(word);
            records = records.Where(r =>
                EF.Functions.Like(r.Reference!, like, "\\")
                || EF.Functions.Like(r.Caption!, like, "\\")
                || EF.Functions.Like(r.Key, like, "\\")
                || EF.Functions.Like(r.Values, like, "\\")
            );
        }

        var total = await records.CountAsync(cancel);
        // Who types a whole key or SKU means that record, even where others mention it.
        var whole = (text ?? "").Trim();
        var found = await records
            .OrderBy(r => r.Key == whole || r.Reference == whole ? 0 : 1)
            .ThenBy(r => r.Caption)
            .ThenBy(r => r.Id)
            .Skip(window.From)
            .Take(window.Size)
            .ToListAsync(cancel);
        var keys = found.Select(r => r.Key).ToList();
        var links = await db
            .Links.AsNoTracking()
            .Where(l => l.CoupleId == id && (onHub ? keys.Contains(l.HubKey) : keys.Contains(l.OtherKey)))
            .ToListAsync(cancel);
        var asides = await db
            .SetAsides.AsNoTracking()
            .Where(a =>
                a.CoupleId == id && (onHub ? a.HubKey != null && keys.Contains(a.HubKey) : a.OtherKey != null && keys.Contains(a.OtherKey))
            )
            .ToListAsync(cancel);
        return new Slice<FoundRecord>(
            total,
            window.From,
            [
                .. found.Select(r =>
                {
                    var link = links.Find(l => (onHub ? l.HubKey : l.OtherKey) == r.Key);
                    var state = link is not null
                        ? link.IsKit
                            ? "kit"
                            : "paired"
                        : asides.Exists(a => (onHub ? a.HubKey : a.OtherKey) == r.Key)
                            ? "setAside"
                            : "free";
                    return new FoundRecord(
                        r.Key,
                        r.Reference,
                        r.Caption,
                        fields.Text(StoredRecord.Values(r.Values), FieldRole.Option),
                        state,
                        link is null ? null
                            : onHub ? link.OtherKey
                            : link.HubKey
                    );
                }),
            ]
        );
    }
}
