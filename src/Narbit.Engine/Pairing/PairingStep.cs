using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>
/// Pairs what two systems hold and is neither linked nor set aside, and keeps the result as proposals.
/// Where the other system was taken over, certain pairs are linked at once, as a batch that can be taken back.
/// </summary>
/// <param name="database">Where the mirror and the pairs are.</param>
/// <param name="limits">Which titles become short enough on their way.</param>
/// <param name="clock">The time.</param>
public sealed class PairingStep(Database database, ITitleLimits limits, TimeProvider clock)
{
    /// <summary>Who links what pairing is certain of.</summary>
    public const string Pairing = "Pairing";

    /// <summary>Pairs anew.</summary>
    /// <param name="hub">The hub.</param>
    /// <param name="other">The other system.</param>
    /// <param name="kind">Items or customers.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>How many listings are linked.</returns>
    public async Task<int> PairAsync(Connection hub, Connection other, RecordKind kind, CancellationToken cancel)
    {
        var couple = await CoupleOf.EnsureAsync(database, hub.System.Id, other.System.Id, kind, cancel);
        var (left, right) = (
            await PairSide.LoadAsync(database, hub, kind, cancel),
            await PairSide.LoadAsync(database, other, kind, cancel)
        );
        var standing = await Standing.LoadAsync(database, couple.Id, cancel);
        IReadOnlyList<PairFinding> findings =
            couple.Kind == RecordKind.Customer
                ? Customers(left, right, standing, await CountryAsync(cancel))
                : Items(left, right, couple, standing, await KnownAsync(couple, cancel));
        if (couple.AcceptsCertain && findings.Any(f => f.Verdict == Verdict.Certain))
        {
            await LinkCertainAsync(couple, findings, left, cancel);
            standing = await Standing.LoadAsync(database, couple.Id, cancel);
            findings = [.. findings.Where(f => f.Verdict != Verdict.Certain)];
        }

        var shares = Shares(left, right, couple, standing, findings);
        // Such a listing has a line of its own, also where it is a weak candidate of something else.
        var alone = findings.Where(f => f.LeftKey is null).Select(f => f.RightKey!).ToHashSet(StringComparer.Ordinal);
        findings =
        [
            .. findings,
            .. shares.Keys.Where(k => !alone.Contains(k)).Select(k => new PairFinding(null, k, Verdict.Ambiguous, 0, [], [])),
        ];
        var limited = await limits.AreLimitedAsync(couple.HubId, right, cancel);
        var ready = Ready(left, right, standing, findings, limited);
        var causes = Causes(ready.Hub, ready.Other);
        var now = clock.GetUtcNow();
        await new PairStore(database).ReplaceAsync(
            couple.Id,
            [.. findings.Select(f => Proposal(couple, f, shares, causes, left, right, standing))],
            now,
            cancel
        );
        await ReadinessMismatches.KeepAsync(database, couple, (left, ready.Hub), (right, ready.Other), now, cancel);
        return standing.Links.Select(l => l.OtherKey).Distinct(StringComparer.Ordinal).Count();
    }

    // What is taken still counts where a SKU or an email is used twice.
    private static IReadOnlyList<PairFinding> Customers(PairSide left, PairSide right, Standing standing, string? country) =>
        CustomerPairing.Pair(
            [.. left.Rows.Values.Select(r => left.Customer(r) with { Taken = standing.HubTaken(r.Key) })],
            [.. right.Rows.Values.Select(r => right.Customer(r) with { Taken = standing.OtherTaken(r.Key) })],
            new SideNames(left.Connection.System.Name, right.Connection.System.Name),
            country
        );

    private static IReadOnlyList<PairFinding> Items(
        PairSide left,
        PairSide right,
        Couple couple,
        Standing standing,
        ILookup<string, KnownAs> known
    ) =>
        ItemPairing.Pair(
            [.. left.Rows.Values.Select(r => left.Item(r, [.. known[r.Key]]) with { Taken = standing.HubTaken(r.Key) })],
            [.. right.Rows.Values.Select(r => right.Item(r, []) with { Taken = standing.OtherTaken(r.Key) })],
            new SideNames(left.Connection.System.Name, right.Connection.System.Name),
            CoupleOf.Habit(couple)
        );

    private async Task<string?> CountryAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.Workspaces.Select(w => w.Country).FirstOrDefaultAsync(cancel);
    }

    // A listing that resembles an item which has its listing already may share the item.
    private static Dictionary<string, KeptCandidate> Shares(
        PairSide left,
        PairSide right,
        Couple couple,
        Standing standing,
        IReadOnlyList<PairFinding> findings
    )
    {
        if (couple.Kind != RecordKind.Item)
            return [];
        var paired = findings
            .Where(f => f is { LeftKey: not null, RightKey: not null })
            .Select(f => f.RightKey!)
            .ToHashSet(StringComparer.Ordinal);
        var alone = right
            .Rows.Values.Where(r => !standing.OtherTaken(r.Key) && !paired.Contains(r.Key))
            .Select(r => right.Item(r, []))
            .ToList();
        var linked = standing
            .Links.Where(l => !l.IsKit && left.Rows.ContainsKey(l.HubKey))
            .Select(l => l.HubKey)
            .Distinct(StringComparer.Ordinal)
            .Select(k => left.Item(left.Rows[k], []))
            .ToList();
        if (alone.Count == 0 || linked.Count == 0)
            return [];
        return ItemPairing
            .Pair(linked, alone, new SideNames(left.Connection.System.Name, right.Connection.System.Name), CoupleOf.Habit(couple))
            .Where(f => f is { LeftKey: not null, RightKey: not null })
            .ToDictionary(f => f.RightKey!, f => new KeptCandidate(f.LeftKey!, f.Confidence, true, f.Evidence), StringComparer.Ordinal);
    }

    private static (IReadOnlyList<ReadinessFinding> Hub, IReadOnlyList<ReadinessFinding> Other) Ready(
        PairSide left,
        PairSide right,
        Standing standing,
        IReadOnlyList<PairFinding> findings,
        bool limited
    )
    {
        var partners = findings
            .Where(f => f is { LeftKey: not null, RightKey: not null })
            .Select(f => (f.LeftKey!, f.RightKey!))
            .Concat(standing.Links.Where(l => !l.IsKit).Select(l => (l.HubKey, l.OtherKey)));
        return ReadinessCheck.Both(left, right, [.. partners], limited: limited);
    }

    private static ILookup<string, string> Causes(IReadOnlyList<ReadinessFinding> hub, IReadOnlyList<ReadinessFinding> other) =>
        hub.Select(f => ("hub", f))
            .Concat(other.Select(f => ("other", f)))
            .ToLookup(x => $"{x.Item1} {x.f.Key}", x => $"{x.Item1}.{ReadinessWords.Code(x.f)}", StringComparer.Ordinal);

    private static PairProposal Proposal(
        Couple couple,
        PairFinding finding,
        Dictionary<string, KeptCandidate> shares,
        ILookup<string, string> causes,
        PairSide left,
        PairSide right,
        Standing standing
    )
    {
        var row = finding.LeftKey is { } l ? left.Rows[l] : right.Rows[finding.RightKey!];
        var candidates = finding
            .Candidates.Select(c => new KeptCandidate(
                c.Key,
                c.Confidence,
                finding.LeftKey is null ? standing.HubTaken(c.Key) : standing.OtherTaken(c.Key),
                c.Evidence
            ))
            .ToList();
        var verdict = finding.Verdict;
        if (finding is { LeftKey: null } && shares.TryGetValue(finding.RightKey!, out var share))
        {
            candidates.Insert(0, share);
            verdict = Verdict.Ambiguous;
        }

        var found = (finding.LeftKey is { } hub ? causes["hub " + hub] : []).Concat(
            finding.RightKey is { } there ? causes["other " + there] : []
        );
        return new PairProposal
        {
            CoupleId = couple.Id,
            HubKey = finding.LeftKey,
            OtherKey = finding.RightKey,
            Verdict = verdict,
            Confidence = Math.Max(
                finding.Confidence,
                candidates.Count > 0 && finding.RightKey is null ? candidates.Max(c => c.Confidence) : 0
            ),
            Evidence = PairJson.Write(finding.Evidence),
            Candidates = PairJson.Write(candidates),
            Reference = row.Reference,
            Caption = row.Caption,
            Causes = string.Join(' ', found.Distinct(StringComparer.Ordinal)),
        };
    }

    private async Task LinkCertainAsync(Couple couple, IReadOnlyList<PairFinding> findings, PairSide left, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var now = clock.GetUtcNow();
        // Two lanes may do this at the same time; what the other has linked meanwhile is left alone.
        var linked = (await db.Links.Where(l => l.CoupleId == couple.Id).Select(l => l.OtherKey).ToListAsync(cancel)).ToHashSet(
            StringComparer.Ordinal
        );
        var certain = findings.Where(f => f.Verdict == Verdict.Certain && !linked.Contains(f.RightKey!)).ToList();
        if (certain.Count == 0)
            return;
        var batch = new PairBatch
        {
            CoupleId = couple.Id,
            By = Pairing,
            Origin = BatchOrigin.Pairing,
            At = now,
            Decisions = certain.Count,
            Note = "certain pairs, linked by themselves",
        };
        db.Batches.Add(batch);
        await db.SaveChangesAsync(cancel);
        var decisions = certain
            .Select(f => new PairDecision
            {
                CoupleId = couple.Id,
                BatchId = batch.Id,
                Act = DecisionAct.Accept,
                State = DecisionState.Committed,
                HubKey = f.LeftKey,
                OtherKey = f.RightKey,
                Evidence = string.Join("; ", f.Evidence.Select(e => e.Words)),
                Verdict = "certain",
                Reference = left.Rows[f.LeftKey!].Reference,
                Caption = left.Rows[f.LeftKey!].Caption,
                By = Pairing,
                At = now,
            })
            .ToList();
        PairRows.Insert(db, decisions);
        PairRows.Insert(
            db,
            decisions.Select(d => new PairLink
            {
                CoupleId = couple.Id,
                HubKey = d.HubKey!,
                OtherKey = d.OtherKey!,
                DecisionId = d.Id,
            })
        );
        await transaction.CommitAsync(cancel);
    }

    // How systems that were paired before know the hub's records.
    private async Task<ILookup<string, KnownAs>> KnownAsync(Couple couple, CancellationToken cancel)
    {
        if (couple.Kind != RecordKind.Item)
            return Array.Empty<KnownAs>().ToLookup(_ => "");
        await using var db = database.CreateDbContext();
        var known = await (
            from link in db.Links
            join of in db.Couples on link.CoupleId equals of.Id
            join system in db.Systems on of.OtherId equals system.Id
            join record in db.Records
                on new
                {
                    SystemId = of.OtherId,
                    of.Kind,
                    Key = link.OtherKey,
                } equals new
                {
                    record.SystemId,
                    record.Kind,
                    record.Key,
                }
            where of.HubId == couple.HubId && of.Kind == couple.Kind && of.Id != couple.Id && !link.IsKit && record.Reference != null
            select new
            {
                link.HubKey,
                system.Name,
                record.Reference,
            }
        ).ToListAsync(cancel);
        return known.ToLookup(k => k.HubKey, k => new KnownAs(k.Name, k.Reference, null), StringComparer.Ordinal);
    }
}
