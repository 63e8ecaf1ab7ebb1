using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Pairs;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Pairs a record with the proposed partner, or sets one aside that has none, as a batch that can be taken back.</summary>
/// <param name="desk">What keeps decisions on pairs.</param>
/// <param name="live">Who hears of it.</param>
public sealed class PairUp(DecisionDesk desk, LiveFeed live) : WayOut<PairsDecided>
{
    private const double OfLikely = 0.85;
    private const double OfAmbiguous = 0.5;
    private const double OfAside = 0.3;

    private static readonly HashSet<string> Causes = new(StringComparer.Ordinal)
    {
        "pair.likely",
        "pair.certain",
        "pair.ambiguous",
        "pair.none",
    };

    /// <inheritdoc/>
    public override string Act => "pair";

    /// <inheritdoc/>
    public override bool Knows(string cause) => Causes.Contains(cause);

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var names = await PartnerNames.OfAsync(db, some, cancel);
        return [.. some.Where(m => m.CoupleId is not null).Select(m => new Suggested(m, Of(m, names)))];
    }

    private static Suggestion Of(Mismatch mismatch, PartnerNames names) =>
        mismatch.Cause == "pair.none" || mismatch.Proposal is null
            ? new Suggestion("aside", "Set aside: it is not to have a partner", "nothing there is like it", OfAside)
            : new Suggestion(
                "pair",
                $"Pair with {names.Of(mismatch)}",
                mismatch.Because,
                mismatch.Cause switch
                {
                    "pair.certain" => 1,
                    "pair.likely" => OfLikely,
                    _ => OfAmbiguous,
                },
                mismatch.Proposal
            );

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PairsDecided> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        foreach (var couple in some.GroupBy(s => s.Mismatch.CoupleId!.Value))
        {
            var decided = await DecideAsync(couple.Key, [.. couple], (by, log.ActId), not, cancel);
            if (decided.Count == 0)
                continue;
            // Said before it is in force: whoever takes the act back finds it, whatever becomes of this process.
            await log.DoneAsync(new PairsDecided(couple.Key, log.ActId));
            var committed = await desk.CommitAsync(
                couple.Key,
                [.. decided.Select(d => d.Decision)],
                by,
                $"from the mismatch desk, act {log.ActId}",
                cancel
            );
            if (committed.Fault is { } refused)
            {
                not.AddRange(decided.Select(d => new NotTaken(d.Mismatch, refused.Words)));
                continue;
            }

            var faults = committed.Value.Faults.ToDictionary(f => f.DecisionId, f => f.Message);
            not.AddRange(decided.Where(d => faults.ContainsKey(d.Decision)).Select(d => new NotTaken(d.Mismatch, faults[d.Decision])));
            settled.AddRange(decided.Where(d => !faults.ContainsKey(d.Decision)).Select(d => d.Mismatch));
            Tell(couple.Key);
        }

        return new Taken(Words(some, [.. settled]), settled, not);
    }

    // All in one go; where one of them cannot be decided, each by itself, so that it holds up none of the others.
    private async Task<List<(long Decision, long Mismatch)>> DecideAsync(
        long couple,
        IReadOnlyList<Suggested> some,
        (string By, long Act) who,
        List<NotTaken> not,
        CancellationToken cancel
    )
    {
        var all = await desk.DecideAsync(couple, [.. some.Select(Decision)], who.By, cancel, who.Act);
        if (all.Fault is null)
            return [.. all.Value.Zip(some, (decision, one) => (decision, one.Mismatch.Id))];
        var decided = new List<(long Decision, long Mismatch)>();
        foreach (var one in some)
        {
            var made = await desk.DecideAsync(couple, [Decision(one)], who.By, cancel, who.Act);
            if (made.Fault is { } fault)
                not.Add(new NotTaken(one.Mismatch.Id, fault.Words));
            else
                decided.Add((made.Value[0], one.Mismatch.Id));
        }

        return decided;
    }

    private static string Words(IReadOnlyList<Suggested> some, HashSet<long> settled)
    {
        var done = some.Where(s => settled.Contains(s.Mismatch.Id)).ToLookup(s => s.Suggestion.Act == "aside");
        var parts = new[] { (done[false].Count(), "paired"), (done[true].Count(), "set aside") };
        return string.Join(", ", parts.Where(p => p.Item1 > 0).Select(p => $"{p.Item1:N0} {p.Item2}"));
    }

    private static DecisionToMake Decision(Suggested one)
    {
        var ofHub = one.Mismatch.Subject == "hub";
        if (one.Suggestion.Act == "aside")
            return new DecisionToMake(
                DecisionAct.SetAside,
                ofHub ? one.Mismatch.Key : null,
                ofHub ? null : one.Mismatch.Key,
                Reason: "not to have a partner"
            );
        var (hub, other) = ofHub ? (one.Mismatch.Key, one.Suggestion.Value) : (one.Suggestion.Value, one.Mismatch.Key);
        return new DecisionToMake(DecisionAct.Accept, hub, other);
    }

    /// <inheritdoc/>
    protected override async Task<IReadOnlyList<PairsDecided>> BegunAsync(NarbitContext db, long act, CancellationToken cancel)
    {
        var couples = await db.Decisions.Where(d => d.DeskActId == act).Select(d => d.CoupleId).Distinct().ToListAsync(cancel);
        return couples.ConvertAll(c => new PairsDecided(c, act));
    }

    /// <inheritdoc/>
    protected override async Task<Reason?> UndoAsync(PairsDecided part, string by, CancellationToken cancel)
    {
        if (part.Couple is not { } couple)
            return DecisionDesk.Remains(await desk.UndoAsync(part.Number, by, cancel));
        var remains = await desk.UndoActAsync(couple, part.Number, by, cancel);
        Tell(couple);
        return remains;
    }

    private void Tell(long couple) => live.Tell(new LiveEvent("pairs", couple.ToString(CultureInfo.InvariantCulture)));

    /// <inheritdoc/>
    protected override PairsDecided Earlier(string text) =>
        text.Split('/').Select(n => long.Parse(n, CultureInfo.InvariantCulture)).ToArray() is [var couple, var act]
            ? new PairsDecided(couple, act)
            : new PairsDecided(null, long.Parse(text, CultureInfo.InvariantCulture));
}
