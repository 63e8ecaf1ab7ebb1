using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Compares records anew that are otherwise than they were left: as a preview for these alone, which a person sends.</summary>
/// <param name="runs">What begins runs.</param>
public sealed class CompareAnew(RunDesk runs) : WayOut<PreviewMade>
{
    private const double OfOurs = 0.6;

    /// <inheritdoc/>
    public override string Act => "compare";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause.StartsWith("drift.", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<Suggested>>([.. some.Where(m => m.LaneId is not null).Select(m => new Suggested(m, Way))]);

    private static Suggestion Way { get; } =
        new("compare", "Compare it anew, and send ours", "no run of ours made it what it is there", OfOurs)
        {
            Effect = "as a preview for these records alone; nothing is sent before you do",
        };

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PreviewMade> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not, run) = (new List<long>(), new List<NotTaken>(), (long?)null);
        foreach (var lane in some.GroupBy(s => s.Mismatch.LaneId!, StringComparer.Ordinal))
        {
            var keys = lane.Select(s => s.Mismatch.Key).Distinct(StringComparer.Ordinal);
            var request = new RunRequest(lane.Key, Preview: true, RunTrigger.Person, by) { Only = JsonSerializer.Serialize(keys) };
            var started = await runs.StartAsync(request, cancel);
            if (started.Fault is { } fault)
            {
                not.AddRange(lane.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
                continue;
            }

            run ??= started.Value;
            await log.DoneAsync(new PreviewMade(started.Value));
            settled.AddRange(lane.Select(s => s.Mismatch.Id));
        }

        return new Taken("What would be sent is in a preview", settled, not, run);
    }

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(PreviewMade part, string by, CancellationToken cancel) => part.UndoAsync(runs, by, cancel);

    /// <inheritdoc/>
    protected override PreviewMade Earlier(string text) => PreviewMade.Earlier(text);
}
