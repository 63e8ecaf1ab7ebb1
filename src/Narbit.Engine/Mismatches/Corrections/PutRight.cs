using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.Corrections;

/// <summary>
/// Puts a value right in the system that has it, where the readiness check proposes one: as a preview of the system's correction lane,
/// which a person sends.
/// </summary>
/// <param name="desk">What keeps corrections.</param>
/// <param name="runs">What begins runs.</param>
public sealed class PutRight(CorrectionDesk desk, RunDesk runs) : WayOut<PreviewMade>
{
    private const double OfProposal = 0.75;

    /// <inheritdoc/>
    public override string Act => "correct";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause.StartsWith("ready.", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<Suggested>>([
            .. some.Where(m => m is { Proposal: not null, Subject: not null }).Select(m => new Suggested(m, Of(m))),
        ]);

    private static Suggestion Of(Mismatch mismatch) =>
        new("correct", $"Put “{mismatch.Proposal}” there", mismatch.Because, OfProposal, mismatch.Proposal);

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PreviewMade> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        long? run = null;
        foreach (var system in some.GroupBy(s => s.Mismatch.SystemId, StringComparer.Ordinal))
        {
            var corrections = system
                .Select(s => new Correction(s.Mismatch.Key, s.Mismatch.Subject!, s.Suggestion.Value))
                .DistinctBy(c => (c.Key, c.Field))
                .ToList();
            var lane = await desk.CorrectAsync(system.Key, corrections, by, cancel);
            var started = lane.Fault is { } fault ? fault : await runs.StartAsync(lane.Value, preview: true, RunTrigger.Person, by, cancel);
            if (started.Fault is { } refused)
            {
                not.AddRange(system.Select(s => new NotTaken(s.Mismatch.Id, refused.Words)));
                continue;
            }

            run = started.Value;
            await log.DoneAsync(new PreviewMade(started.Value));
            settled.AddRange(system.Select(s => s.Mismatch.Id));
        }

        var words = settled.Count == 1 ? "1 correction is" : $"{settled.Count:N0} corrections are";
        return new Taken($"{words} in a preview, to be sent", settled, not, run);
    }

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(PreviewMade part, string by, CancellationToken cancel) => part.UndoAsync(runs, by, cancel);

    /// <inheritdoc/>
    protected override PreviewMade Earlier(string text) => PreviewMade.Earlier(text);
}
