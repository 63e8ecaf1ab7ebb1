using System.Collections.Concurrent;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Pairs;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// What pairing could not settle: likely and ambiguous pairs, records without a partner, partners that are gone, and a way of writing
/// SKUs that shows and is no rule yet.
/// </summary>
/// <param name="desk">What learns such ways.</param>
public sealed class PairMismatches(PairDesk desk) : IMismatchSource
{
    // When each couple was paired as it was looked at last.
    private readonly ConcurrentDictionary<long, DateTimeOffset?> _looked = new();

    /// <inheritdoc/>
    public string Family => "couple:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        [.. (await db.Couples.Select(c => c.Id).ToListAsync(cancel)).Select(Name)];

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel)
    {
        // Whoever paired, a run, a reading or a person: it shows in when it was done.
        var paired = await db.Couples.Where(c => c.PairedAt != null).Select(c => new { c.Id, c.PairedAt }).ToListAsync(cancel);
        var anew = paired.Where(c => _looked.GetValueOrDefault(c.Id) != c.PairedAt).Select(c => Name(c.Id));
        return what.Topic == "pairs" ? [.. anew.Append(what.Id)] : [.. anew];
    }

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        var id = long.Parse(origin, CultureInfo.InvariantCulture);
        if (await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == id, cancel) is not { PairedAt: { } at } couple)
            return null;
        _looked[id] = at;
        var open = await DecisionDesk.OpenAsync(db, id, cancel);
        var found = (await open.ToListAsync(cancel)).Select(p => Of(couple, p)).ToList();
        found.AddRange(await GoneAsync(db, couple, cancel));
        if (await desk.LearnAsync(couple, cancel) is { } learned)
            found.Add(await HabitAsync(db, couple, learned, cancel));
        var waiting = db.Decisions.Where(d => d.CoupleId == id && d.State == DecisionState.Waiting);
        if (await waiting.CountAsync(cancel) is > 0 and var decided)
            found.Add(
                new FoundMismatch
                {
                    Cause = "work.pairs",
                    SystemId = couple.OtherId,
                    OtherSystemId = couple.HubId,
                    Kind = couple.Kind,
                    Scope = origin,
                    CoupleId = id,
                    Words = $"{decided:N0} {(decided == 1 ? "decision is" : "decisions are")} made and not committed",
                    Since = await waiting.MinAsync(d => d.At, cancel),
                }
            );
        return new Look(at, found);
    }

    private static async Task<FoundMismatch> HabitAsync(NarbitContext db, Couple couple, LearnedHabit learned, CancellationToken cancel)
    {
        var name = await db.Systems.Where(s => s.Id == couple.OtherId).Select(s => s.Name).FirstAsync(cancel);
        return new FoundMismatch
        {
            Cause = LearnHabit.Cause,
            SystemId = couple.OtherId,
            OtherSystemId = couple.HubId,
            Kind = couple.Kind,
            Scope = Name(couple.Id),
            CoupleId = couple.Id,
            Caption = name,
            Words = $"{learned.Habit.Words(name)}, as {learned.Shown:N0} of {learned.Of:N0} pairs show",
        };
    }

    private static string Name(long id) => id.ToString(CultureInfo.InvariantCulture);

    // A proposal is about the other side's record where it names one: that is the one that has no partner yet.
    private static FoundMismatch Of(Couple couple, PairProposal proposal)
    {
        var ofHub = proposal.OtherKey is null;
        var best = PairJson.Candidates(proposal.Candidates) is [var first, ..] ? first : null;
        var partner = ofHub ? best?.Key : proposal.HubKey ?? best?.Key;
        return new FoundMismatch
        {
            Cause = $"pair.{proposal.Verdict.ToString().ToLowerInvariant()}",
            SystemId = ofHub ? couple.HubId : couple.OtherId,
            OtherSystemId = ofHub ? couple.OtherId : couple.HubId,
            Kind = couple.Kind,
            Key = proposal.OtherKey ?? proposal.HubKey!,
            Scope = Name(couple.Id),
            CoupleId = couple.Id,
            OtherKey = partner,
            Reference = proposal.Reference,
            Caption = proposal.Caption,
            Words = Words(proposal),
            Subject = ofHub ? "hub" : null,
            Proposal = partner,
            Because =
                proposal.HubKey is not null && proposal.OtherKey is not null ? PairJson.Words(proposal.Evidence)
                : best is null ? null
                : string.Join("; ", best.Evidence.Select(e => e.Words)),
        };
    }

    private static string Words(PairProposal proposal) =>
        proposal.Verdict switch
        {
            Verdict.Likely => $"The two are likely one, at {proposal.Confidence * 100:0} %",
            Verdict.Ambiguous => "Several records could be its partner",
            Verdict.Certain => "The two are one",
            _ when PairJson.Candidates(proposal.Candidates).Count > 0 => "What it is like has a nearer partner",
            _ when proposal.OtherKey is null => "Nothing there is like it",
            _ => "The hub has nothing like it",
        };

    // A link of which one side is gone: what is left is for sale, or waits, alone.
    private static async Task<IEnumerable<FoundMismatch>> GoneAsync(NarbitContext db, Couple couple, CancellationToken cancel)
    {
        var gone = await (
            from link in db.Links
            where link.CoupleId == couple.Id
            join here in db.Records.Where(r => r.SystemId == couple.HubId && r.Kind == couple.Kind) on link.HubKey equals here.Key
            join there in db.Records.Where(r => r.SystemId == couple.OtherId && r.Kind == couple.Kind) on link.OtherKey equals there.Key
            where (here.GoneAt == null) != (there.GoneAt == null)
            select new GoneLink(
                new Left(here.Key, here.Reference, here.Caption, here.GoneAt),
                new Left(there.Key, there.Reference, there.Caption, there.GoneAt)
            )
        ).ToListAsync(cancel);
        return gone.Select(link => Of(couple, link));
    }

    private sealed record Left(string Key, string? Reference, string? Caption, DateTimeOffset? GoneAt);

    private sealed record GoneLink(Left Here, Left There);

    private static FoundMismatch Of(Couple couple, GoneLink link)
    {
        var hubGone = link.Here.GoneAt is not null;
        var (left, gone) = hubGone ? (link.There, link.Here) : (link.Here, link.There);
        return new FoundMismatch
        {
            Cause = hubGone ? "stock.gone" : "pair.vanished",
            SystemId = hubGone ? couple.OtherId : couple.HubId,
            OtherSystemId = hubGone ? couple.HubId : couple.OtherId,
            Kind = couple.Kind,
            Key = left.Key,
            Scope = Name(couple.Id),
            CoupleId = couple.Id,
            OtherKey = gone.Key,
            Reference = left.Reference,
            Caption = left.Caption,
            Words = hubGone ? $"{gone.Key} is gone at the hub, and this is still there" : $"{gone.Key} is gone there",
            Since = gone.GoneAt,
        };
    }
}
