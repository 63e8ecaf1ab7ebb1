using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>What the records of some decisions are, looked up for all of them at once.</summary>
internal sealed class KnownRecords
{
    private const int Chunk = 400;
    private readonly Couple _couple;
    private readonly Dictionary<(string System, string Key), Named> _records = [];
    private readonly HashSet<string> _linkedHere = new(StringComparer.Ordinal);
    private readonly HashSet<string> _linkedThere = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PairProposal> _byHub = new(StringComparer.Ordinal);
    private readonly Dictionary<string, PairProposal> _byOther = new(StringComparer.Ordinal);

    private KnownRecords(Couple couple) => _couple = couple;

    public sealed record Named(string Key, string? Sku, string? Title, DateTimeOffset? GoneAt);

    public static async Task<KnownRecords> LoadAsync(
        NarbitContext db,
        Couple couple,
        IReadOnlyList<DecisionToMake> wanted,
        CancellationToken cancel
    )
    {
        var known = new KnownRecords(couple);
        var hub = wanted
            .Select(d => d.HubKey)
            .OfType<string>()
            .Concat(wanted.SelectMany(d => d.Parts ?? []).Select(p => p.HubKey))
            .Distinct(StringComparer.Ordinal);
        foreach (var keys in hub.Chunk(Chunk))
        {
            await RecordsAsync(couple.HubId, keys);
            known._linkedHere.UnionWith(
                await db
                    .Links.Where(l => l.CoupleId == couple.Id && keys.Contains(l.HubKey) && !l.IsKit)
                    .Select(l => l.HubKey)
                    .ToListAsync(cancel)
            );
            foreach (
                var p in await db
                    .Proposals.AsNoTracking()
                    .Where(p => p.CoupleId == couple.Id && p.HubKey != null && keys.Contains(p.HubKey))
                    .ToListAsync(cancel)
            )
                known._byHub[p.HubKey!] = p;
        }

        foreach (var keys in wanted.Select(d => d.OtherKey).OfType<string>().Distinct(StringComparer.Ordinal).Chunk(Chunk))
        {
            await RecordsAsync(couple.OtherId, keys);
            known._linkedThere.UnionWith(
                await db.Links.Where(l => l.CoupleId == couple.Id && keys.Contains(l.OtherKey)).Select(l => l.OtherKey).ToListAsync(cancel)
            );
            foreach (
                var p in await db
                    .Proposals.AsNoTracking()
                    .Where(p => p.CoupleId == couple.Id && p.OtherKey != null && keys.Contains(p.OtherKey))
                    .ToListAsync(cancel)
            )
                known._byOther[p.OtherKey!] = p;
        }

        return known;

        async Task RecordsAsync(string system, string[] keys)
        {
            foreach (
                var r in await db
                    .Records.Where(r => r.SystemId == system && r.Kind == couple.Kind && keys.Contains(r.Key))
                    .Select(r => new Named(r.Key, r.Reference, r.Caption, r.GoneAt))
                    .ToListAsync(cancel)
            )
                known._records[(system, r.Key)] = r;
        }
    }

    public Named? Hub(string key) => _records.GetValueOrDefault((_couple.HubId, key));

    public Named? Other(string key) => _records.GetValueOrDefault((_couple.OtherId, key));

    public PairProposal? Proposal(DecisionToMake d) =>
        d.HubKey is not null
        && _byHub.TryGetValue(d.HubKey, out var here)
        && (here.OtherKey == d.OtherKey || d.OtherKey is null || !_byOther.ContainsKey(d.OtherKey))
            ? here
        : d.OtherKey is not null && _byOther.TryGetValue(d.OtherKey, out var there) ? there
        : null;

    /// <summary>Why a decision cannot be made, or null.</summary>
    public Reason? Check(DecisionToMake d)
    {
        var (needsHub, needsOther) = d.Act switch
        {
            DecisionAct.Accept or DecisionAct.Share => (true, true),
            DecisionAct.Kit => (false, true),
            DecisionAct.Create => (true, false),
            _ => (d.HubKey is not null, d.OtherKey is not null),
        };
        if ((needsHub && d.HubKey is null) || (needsOther && d.OtherKey is null) || (d.HubKey is null && d.OtherKey is null))
            return new Reason("decision.incomplete", "The decision names no record, or not both.");
        if (d.Act == DecisionAct.SetAside && string.IsNullOrWhiteSpace(d.Reason))
            return new Reason("decision.incomplete", "Say why the record is set aside; whoever looks later will want to know.");
        if (
            d.Act == DecisionAct.Kit
            && (
                d.Parts is not { Count: > 0 } || d.Parts.Any(p => p.Quantity <= 0) || d.Parts.GroupBy(p => p.HubKey).Any(g => g.Count() > 1)
            )
        )
            return new Reason("decision.incomplete", "A kit needs at least one item, each once and with a quantity above 0.");
        if (d.Act == DecisionAct.Unpair)
            return null;

        foreach (
            var (system, key) in new[] { (_couple.HubId, d.HubKey), (_couple.OtherId, d.OtherKey) }.Concat(
                (d.Parts ?? []).Select(p => (_couple.HubId, (string?)p.HubKey))
            )
        )
        {
            if (key is null)
                continue;
            if (!_records.TryGetValue((system, key), out var record))
                return new Reason("record.unknown", $"The mirror has no record {key} of {system}.");
            if (record.GoneAt is { } gone)
                return new Reason(
                    "record.gone",
                    $"Record {key} is gone from {system} since {gone:yyyy-MM-dd HH:mm} UTC, so it cannot be paired. Read "
                        + $"{system} again to be sure."
                );
        }

        if (d.OtherKey is not null && _linkedThere.Contains(d.OtherKey))
            return new Reason("record.paired", $"Record {d.OtherKey} is paired already. Unpair it first.");
        return d.Act is DecisionAct.Accept or DecisionAct.Create && _linkedHere.Contains(d.HubKey!)
            ? new Reason("record.paired", $"Record {d.HubKey} has a listing already. Share it, or unpair that listing first.")
            : null;
    }
}
