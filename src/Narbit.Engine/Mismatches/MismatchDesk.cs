using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// Where people settle what does not match: take a way out, put it off, give it to somebody, say something, or say that it is settled.
/// What was settled meanwhile by somebody else is left alone, and said so.
/// </summary>
/// <param name="database">Where mismatches are.</param>
/// <param name="ways">The ways out there are.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class MismatchDesk(Database database, IEnumerable<IWayOut> ways, LiveFeed live, TimeProvider clock)
{
    /// <summary>The most that one act is about.</summary>
    public const int Most = 100_000;

    private const int MostLearned = 500;

    private readonly MismatchStore _store = new(database, clock);

    /// <summary>The ways out of some mismatches, at most one of each; those without one are left out.</summary>
    public async Task<IReadOnlyList<Suggested>> SuggestAsync(IReadOnlyList<Mismatch> some, CancellationToken cancel) =>
        [.. (await WaysAsync(some, cancel)).SelectMany(w => w.Some)];

    // By the way that suggests it: another may know the same cause and would do something else with what was suggested.
    private async Task<List<(IWayOut Way, List<Suggested> Some)>> WaysAsync(IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var found = new List<(IWayOut, List<Suggested>)>();
        var have = new HashSet<long>();
        foreach (var way in ways)
        {
            var known = some.Where(m => !have.Contains(m.Id) && way.Knows(m.Cause)).ToList();
            var suggested =
                known.Count == 0 ? [] : (await way.SuggestAsync(db, known, cancel)).Where(s => have.Add(s.Mismatch.Id)).ToList();
            if (suggested.Count > 0)
                found.Add((way, suggested));
        }

        return found;
    }

    /// <summary>Takes the way out of each of some mismatches that has one.</summary>
    /// <param name="ids">The mismatches.</param>
    /// <param name="expected">
    /// The fingerprint of what the person was shown as the way out of a single one; another by now refuses. Null: any.
    /// </param>
    /// <param name="by">Who does it.</param>
    /// <param name="cancel">Gives up between two ways out.</param>
    public async Task<Outcome<ActResult>> TakeAsync(IReadOnlyList<long> ids, string? expected, string by, CancellationToken cancel)
    {
        var (open, not) = await OpenAsync(ids, cancel);
        if (open.Count == 0)
            return Nothing(not);
        var byWay = await WaysAsync(open, cancel);
        var suggested = byWay.SelectMany(w => w.Some).ToList();
        if (expected is not null && suggested.Any(s => s.Fingerprint != expected))
            return new Reason("mismatch.changed", "The record has changed meanwhile, and so has its way out; look at it once more.");
        if (suggested.Count == 0)
            return new Reason("mismatch.noWayOut", "There is no way out that could be computed; settle it where it is.");
        var known = suggested.Select(s => s.Mismatch.Id).ToHashSet();
        not.AddRange(open.Where(m => !known.Contains(m.Id)).Select(m => new NotTaken(m.Id, "no way out could be computed")));
        return await TakeAsync(byWay, not, by, cancel);
    }

    private async Task<Outcome<ActResult>> TakeAsync(
        List<(IWayOut Way, List<Suggested> Some)> byWay,
        List<NotTaken> not,
        string by,
        CancellationToken cancel
    )
    {
        ActResult? last = null;
        var count = 0;
        // One way out is one act, so that it is taken back as a whole.
        foreach (var (way, alike) in byWay)
        {
            var act = new MismatchAct
            {
                Kind = MismatchActKind.Applied,
                By = by,
                At = clock.GetUtcNow(),
                Words = "not finished",
                Learned = alike.Any(s => s.Suggestion.Learns),
            };
            await _store.BeginAsync(act, cancel);
            var done = await way.TakeAsync(alike, new ActLog(_store, act.Id, way.Act), by, cancel);
            if (done.Fault is { } fault)
                not.AddRange(alike.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
            else
                not.AddRange(done.Value.NotTaken);
            if (done.ValueOrDefault is not { Settled.Count: > 0 } taken)
            {
                await _store.ForgetAsync(act.Id);
                continue;
            }

            act.Words = taken.Words;
            count += await _store.FinishAsync(act, taken.Settled, new MismatchChange(MismatchState.Settled));
            last = new ActResult(act.Id, count, taken.Words, not, taken.RunId ?? last?.RunId);
        }

        Tell();
        return last is null ? Nothing(not) : last with { NotTaken = not };
    }

    /// <summary>Puts mismatches off until an instant.</summary>
    public Task<Outcome<ActResult>> PutOffAsync(IReadOnlyList<long> ids, DateTimeOffset until, string by, CancellationToken cancel) =>
        until <= clock.GetUtcNow()
            ? Task.FromResult<Outcome<ActResult>>(new Reason("mismatch.past", "That is over already; name a time to come."))
            : ActAsync(MismatchActKind.PutOff, ids, new MismatchChange(MismatchState.PutOff, until), null, by, cancel);

    /// <summary>Gives mismatches to somebody, or to nobody.</summary>
    public Task<Outcome<ActResult>> GiveAsync(IReadOnlyList<long> ids, string? owner, string by, CancellationToken cancel) =>
        ActAsync(MismatchActKind.Given, ids, new MismatchChange(null, Gives: true, Owner: owner), owner, by, cancel);

    /// <summary>Says something about mismatches.</summary>
    public Task<Outcome<ActResult>> RemarkAsync(IReadOnlyList<long> ids, string words, string by, CancellationToken cancel) =>
        string.IsNullOrWhiteSpace(words)
            ? Task.FromResult<Outcome<ActResult>>(new Reason("mismatch.noWords", "A remark says something."))
            : ActAsync(MismatchActKind.Remark, ids, default, words.Trim(), by, cancel);

    /// <summary>Says that mismatches are settled elsewhere, or are as they should be.</summary>
    public Task<Outcome<ActResult>> SettleAsync(IReadOnlyList<long> ids, string? words, string by, CancellationToken cancel) =>
        ActAsync(MismatchActKind.Settled, ids, new MismatchChange(MismatchState.Settled), words, by, cancel);

    /// <summary>
    /// Takes an act back: what it changed elsewhere first, part by part, then where the mismatches stand. What was taken back already is
    /// passed over; where a part has to stay, the others are taken back, and what remains is said.
    /// </summary>
    public async Task<Outcome<ActResult>> UndoAsync(long actId, string by, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.MismatchActs.AsNoTracking().FirstOrDefaultAsync(a => a.Id == actId, cancel) is not { UndoneAt: null } act)
            return new Reason("mismatch.undone", "There is no such act, or it was taken back already.");
        var (way, parts) = await PartsAsync(db, act, cancel);
        // One that was cut off before it did anything has nothing to take back.
        if (way is null && act is { Kind: MismatchActKind.Applied, Count: > 0 })
            return new Reason("mismatch.noUndo", "This cannot be undone here; look at the run or the order that it was about.");
        var remain = new List<(string Part, string Why)>();
        foreach (var part in parts)
            if (await way!.UndoAsync(part, by, cancel) is { } fault)
                remain.Add((part, fault.Words));
        if (remain.Count > 0)
        {
            await _store.KeepPartsAsync(actId, new ActParts(way!.Act, [.. remain.Select(r => r.Part)]));
            Tell();
            return new Reason(
                "mismatch.remains",
                $"{parts.Count - remain.Count:N0} of {parts.Count:N0} parts are as before; "
                    + $"{remain.Count:N0} {(remain.Count == 1 ? "remains" : "remain")}: {remain[0].Why.TrimEnd('.')}."
            );
        }

        var count = await _store.UndoAsync(actId, by, clock.GetUtcNow(), cancel);
        Tell();
        return new ActResult(null, count, "taken back", []);
    }

    // The way out that did it, and its parts: those that were noted, and those that were begun when the process ended.
    private async Task<(IWayOut? Way, IReadOnlyList<string> Parts)> PartsAsync(NarbitContext db, MismatchAct act, CancellationToken cancel)
    {
        if (act.Undo is { } kept)
        {
            var noted = Noted(kept);
            var way = Way(noted.Way);
            return (way, await way.PartsAsync(db, act.Id, noted.Parts, cancel));
        }

        foreach (var way in ways)
            if (await way.PartsAsync(db, act.Id, [], cancel) is { Count: > 0 } begun)
                return (way, begun);
        return (null, []);
    }

    private IWayOut Way(string act) => ways.First(w => w.Act == act);

    private ActParts Noted(string kept) => ActParts.Read(kept, (way, part) => Way(way).Renewed(part));

    /// <summary>What was learned at the desk, the newest first: what holds for what comes later, and what it did since.</summary>
    public async Task<IReadOnlyList<Learned>> LearnedAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var acts = await db
            .MismatchActs.AsNoTracking()
            .Where(a => a.Learned && a.Undo != null)
            .OrderByDescending(a => a.Id)
            .Take(MostLearned)
            .ToListAsync(cancel);
        var learned = new List<Learned>();
        foreach (var act in acts)
        {
            var noted = Noted(act.Undo!);
            learned.Add(
                new Learned(
                    act.Id,
                    act.By,
                    act.At,
                    act.Count,
                    await Way(noted.Way).LessonsAsync(db, noted.Parts, act.At, cancel),
                    act.UndoneAt,
                    act.UndoneBy
                )
            );
        }

        return learned;
    }

    private async Task<Outcome<ActResult>> ActAsync(
        MismatchActKind kind,
        IReadOnlyList<long> ids,
        MismatchChange change,
        string? words,
        string by,
        CancellationToken cancel
    )
    {
        var act = new MismatchAct
        {
            Kind = kind,
            By = by,
            At = clock.GetUtcNow(),
            Words = string.IsNullOrWhiteSpace(words) ? null : words,
        };
        var count = await _store.ActAsync(act, ids, change, cancel);
        var not = count == ids.Count ? [] : (await OpenAsync(ids, cancel)).Not.Where(n => kind is not MismatchActKind.Settled).ToList();
        if (count == 0)
            return Nothing(not);
        Tell();
        return new ActResult(act.Id, count, act.Words ?? "", not);
    }

    // Those that are still open, and those that are not with who settled them.
    private async Task<(List<Mismatch> Open, List<NotTaken> Not)> OpenAsync(IReadOnlyList<long> ids, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var all = new List<Mismatch>(ids.Count);
        foreach (var some in ids.Chunk(500))
            all.AddRange(await db.Mismatches.AsNoTracking().Where(m => some.Contains(m.Id)).ToListAsync(cancel));
        return (
            all.FindAll(m => m.State is MismatchState.Open or MismatchState.PutOff),
            [
                .. all.Where(m => m.State is MismatchState.Settled or MismatchState.Gone)
                    .Select(m => new NotTaken(m.Id, m.SettledBy is { } who ? $"{who} has settled it meanwhile" : "it is gone by itself")),
            ]
        );
    }

    private static Reason Nothing(List<NotTaken> not) =>
        new("mismatch.nothing", not.Count > 0 ? $"Nothing was done: {not[0].Why}." : "Nothing was done: nothing of it is open.");

    private void Tell() => live.Tell(new LiveEvent("mismatches", "all"));
}
