using System.Globalization;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Takes the way in which a system writes SKUs, as decided pairs show it, as a rule for it.</summary>
/// <param name="desk">What learns and keeps such ways.</param>
/// <param name="live">Who hears of it.</param>
public sealed class LearnHabit(PairDesk desk, LiveFeed live) : WayOut<HabitTaken>
{
    /// <summary>The cause: a way of writing SKUs shows, and is no rule yet.</summary>
    public const string Cause = "pair.habit";

    /// <inheritdoc/>
    public override string Act => "habit";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause == Cause;

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var found = new List<Suggested>();
        foreach (var mismatch in some.Where(m => m.CoupleId is not null))
            if (await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == mismatch.CoupleId, cancel) is { } couple)
                if (await desk.LearnAsync(couple, cancel) is { } learned)
                    found.Add(new Suggested(mismatch, Of(mismatch, learned, CoupleOf.Habit(couple))));
        return found;
    }

    private static Suggestion Of(Mismatch mismatch, LearnedHabit learned, SkuHabit? older)
    {
        var system = mismatch.Caption ?? mismatch.SystemId;
        return new Suggestion(
            "habit",
            $"Take as a rule: {learned.Habit.Words(system)}",
            $"{learned.Shown:N0} of {learned.Of:N0} pairs whose SKUs differ show it",
            (double)learned.Shown / learned.Of,
            JsonSerializer.Serialize(learned.Habit),
            Learns: true
        )
        {
            Effect =
                $"{learned.WouldHelp:N0} open {(learned.WouldHelp == 1 ? "record is" : "records are")} written like that"
                + (older is null ? "" : $"; until now: {older.Words(system)}"),
        };
    }

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<HabitTaken> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        foreach (var one in some)
        {
            var couple = one.Mismatch.CoupleId!.Value;
            var habit = JsonSerializer.Deserialize<SkuHabit>(one.Suggestion.Value!);
            var older = await desk.HabitAsync(couple, cancel);
            // Said before it holds: where it never came to hold, the older one is put back over itself.
            await log.DoneAsync(new HabitTaken(couple, older));
            if ((await desk.SetHabitAsync(couple, habit, cancel)).Fault is { } fault)
            {
                not.Add(new NotTaken(one.Mismatch.Id, fault.Words));
                continue;
            }

            Tell(couple);
            settled.Add(one.Mismatch.Id);
        }

        return new Taken("It is a rule now, and all was paired anew by it", settled, not);
    }

    private void Tell(long couple) => live.Tell(new LiveEvent("pairs", couple.ToString(CultureInfo.InvariantCulture)));

    /// <inheritdoc/>
    protected override async Task<Reason?> UndoAsync(HabitTaken part, string by, CancellationToken cancel)
    {
        if ((await desk.SetHabitAsync(part.Couple, part.Older, cancel)).Fault is { } fault)
            return fault;
        Tell(part.Couple);
        return null;
    }

    /// <inheritdoc/>
    protected override async Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<HabitTaken> parts,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        var lessons = new List<Lesson>();
        foreach (var (id, _) in parts)
        {
            var couple = await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.Id == id, cancel);
            if (couple is null || CoupleOf.Habit(couple) is not { } habit)
                continue;
            var name = await db.Systems.Where(s => s.Id == couple.OtherId).Select(s => s.Name).FirstAsync(cancel);
            var links = await (
                from link in db.Links.Where(l => l.CoupleId == id)
                join record in db.Records.Where(r => r.SystemId == couple.OtherId && r.Kind == couple.Kind)
                    on link.OtherKey equals record.Key
                join decision in db.Decisions on link.DecisionId equals decision.Id
                where decision.At > at && record.Reference != null
                select record.Reference!
            ).ToListAsync(cancel);
            lessons.Add(new Lesson(habit.Words(name), links.Count(sku => habit.Plain(sku) is not null), $"/pair-desk/{id}"));
        }

        return lessons;
    }

    /// <inheritdoc/>
    protected override HabitTaken Earlier(string text)
    {
        var slash = text.IndexOf('/', StringComparison.Ordinal);
        return new HabitTaken(
            long.Parse(text[..slash], CultureInfo.InvariantCulture),
            JsonSerializer.Deserialize<SkuHabit?>(Uri.UnescapeDataString(text[(slash + 1)..]))
        );
    }
}
