using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Where both sides were changed: lets the side count whose value is newer, as far as the mirror has seen.</summary>
/// <param name="database">Where runs are.</param>
/// <param name="runs">What sends, and what lets the other side count.</param>
public sealed class TakeNewer(Database database, RunDesk runs) : WayOut<PreviewMade>
{
    private const double OfNewer = 0.65;

    /// <inheritdoc/>
    public override string Act => "newer";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause == "held.changedOnBoth";

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var found = new List<Suggested>();
        foreach (var mismatch in some.Where(m => m is { OtherSystemId: not null, OtherKey: not null, RunId: not null }))
        {
            var here = await LatestAsync(db, mismatch.SystemId, mismatch.Key, mismatch, cancel);
            var there = await LatestAsync(db, mismatch.OtherSystemId!, mismatch.OtherKey!, mismatch, cancel);
            if (here != there && (here ?? there) is not null)
                found.Add(new Suggested(mismatch, Of(ours: there is null || here > there)));
        }

        return found;
    }

    private static Suggestion Of(bool ours) =>
        ours
            ? new Suggestion("ours", "Send ours", "it was changed later than what is there", OfNewer)
            : new Suggestion("theirs", "Let what is there count", "it was changed later than ours", OfNewer);

    private static async Task<DateTimeOffset?> LatestAsync(
        NarbitContext db,
        string system,
        string key,
        Mismatch mismatch,
        CancellationToken cancel
    ) =>
        await db
            .ValueChanges.Where(v => v.SystemId == system && v.Kind == mismatch.Kind && v.Key == key && v.WriteId == null)
            .MaxAsync(v => (DateTimeOffset?)v.At, cancel);

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PreviewMade> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        foreach (var run in some.GroupBy(s => (Run: s.Mismatch.RunId!.Value, s.Suggestion.Act)))
        {
            var keys = run.Select(s => s.Mismatch.Key).ToHashSet(StringComparer.Ordinal);
            var writes = await WritesAsync(run.Key.Run, keys, cancel);
            var done =
                run.Key.Act == "ours"
                    ? await runs.SendAsync(run.Key.Run, new Choice(All: false, Only: writes), by, cancel)
                    : await runs.LetThereCountAsync(run.Key.Run, writes, by, cancel);
            if (done.Fault is { } fault)
                not.AddRange(run.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
            else
                settled.AddRange(run.Select(s => s.Mismatch.Id));
        }

        return new Taken($"{settled.Count:N0} decided by what is newer", settled, not);
    }

    private async Task<IReadOnlyList<long>> WritesAsync(long run, HashSet<string> keys, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var held = await db
            .Writes.Where(w => w.RunId == run && w.State == WriteState.Held)
            .Select(w => new { w.Id, w.SourceKey })
            .ToListAsync(cancel);
        return [.. held.Where(w => keys.Contains(w.SourceKey)).Select(w => w.Id)];
    }

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(PreviewMade part, string by, CancellationToken cancel) => Task.FromResult<Reason?>(null);

    /// <inheritdoc/>
    protected override PreviewMade Earlier(string text) => PreviewMade.Earlier(text);
}
