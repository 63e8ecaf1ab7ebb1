using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Makes an exception of an item of which a lane can send nothing: it is kept off the lane from now on.</summary>
/// <param name="exceptions">What keeps items off lanes.</param>
public sealed class KeepOff(ItemExceptions exceptions) : WayOut<ItemsKeptOff>
{
    private const double OfNothingToSend = 0.4;

    private static readonly HashSet<string> Causes = new(StringComparer.Ordinal)
    {
        "value.noPrice",
        "held.noPrice",
        "held.price.sourceZero",
        "held.price.sourceNegative",
    };

    /// <inheritdoc/>
    public override string Act => "keepOff";

    /// <inheritdoc/>
    public override bool Knows(string cause) => Causes.Contains(cause);

    /// <inheritdoc/>
    public override Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<Suggested>>([
            .. some.Where(m => m.LaneId is not null && m.Key.Length > 0).Select(m => new Suggested(m, Way)),
        ]);

    private static Suggestion Way { get; } =
        new(
            "keepOff",
            "Keep it off this lane from now on",
            "it has no price that could be sent; put one in at its system if it is to have one",
            OfNothingToSend,
            Learns: true
        )
        {
            Effect = "what is there stays as it is, and no run looks at it again",
        };

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<ItemsKeptOff> log,
        string by,
        CancellationToken cancel
    )
    {
        var kept = 0;
        foreach (var lane in some.GroupBy(s => s.Mismatch.LaneId!, StringComparer.Ordinal))
        {
            var keys = lane.Select(s => s.Mismatch.Key).ToHashSet(StringComparer.Ordinal);
            await log.DoneAsync(new ItemsKeptOff(lane.Key, [.. keys]));
            await exceptions.KeepOffAsync([lane.Key], keys, keepOff: true, cancel);
            kept += keys.Count;
        }

        return new Taken(
            kept == 1 ? "1 item is kept off its lane" : $"{kept:N0} items are kept off their lanes",
            [.. some.Select(s => s.Mismatch.Id)],
            []
        );
    }

    /// <inheritdoc/>
    protected override async Task<Reason?> UndoAsync(ItemsKeptOff part, string by, CancellationToken cancel)
    {
        await exceptions.KeepOffAsync([part.Lane], part.Keys.ToHashSet(StringComparer.Ordinal), keepOff: false, cancel);
        return null;
    }

    /// <inheritdoc/>
    protected override async Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<ItemsKeptOff> parts,
        DateTimeOffset at,
        CancellationToken cancel
    )
    {
        var lessons = new List<Lesson>();
        foreach (var (laneId, keys) in parts)
        {
            var hub = await db.Lanes.Where(l => l.Id == laneId).Select(l => l.SourceId).FirstOrDefaultAsync(cancel);
            var names = await db
                .Records.Where(r => r.SystemId == hub && keys.Contains(r.Key) && r.Kind == Core.Records.RecordKind.Item)
                .ToDictionaryAsync(r => r.Key, r => r.Reference ?? r.Key, StringComparer.Ordinal, cancel);
            // Each run since would have looked at it.
            var runs = await db.Runs.CountAsync(r => r.LaneId == laneId && r.PlannedAt > at, cancel);
            lessons.AddRange(
                keys.Select(k => new Lesson($"{names.GetValueOrDefault(k, k)} is kept off its lane", runs, $"/synced?search={k}"))
            );
        }

        return lessons;
    }

    /// <inheritdoc/>
    protected override ItemsKeptOff Earlier(string text)
    {
        var slash = text.IndexOf('/', StringComparison.Ordinal);
        return new ItemsKeptOff(text[..slash], [Uri.UnescapeDataString(text[(slash + 1)..])]);
    }
}
