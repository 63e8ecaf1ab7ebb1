using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Sends what did not get there once more, under the same keys, so that nothing is made twice.</summary>
/// <param name="runs">What tries runs again.</param>
public sealed class TryOnceMore(RunDesk runs) : WayOut<PreviewMade>
{
    private const double OfNoAnswer = 0.8;
    private const double OfRefusal = 0.3;

    private static readonly HashSet<string> MayPass = new(StringComparer.Ordinal)
    {
        "failed.unreachable",
        "failed.timeout",
        "failed.serverError",
        "failed.tooMany",
        "failed.write.noAnswer",
        "failed.write.notArrived",
        "failed.create.notArrived",
        "failed.movedOn",
    };

    /// <inheritdoc/>
    public override string Act => "retry";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause.StartsWith("failed.", StringComparison.Ordinal) || cause == "run.failed";

    /// <inheritdoc/>
    public override Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<Suggested>>([.. some.Where(m => m.RunId is not null).Select(m => new Suggested(m, Of(m)))]);

    private static Suggestion Of(Mismatch mismatch) =>
        MayPass.Contains(mismatch.Cause) || mismatch.Cause == "run.failed"
            ? new Suggestion("retry", "Try it once more", "what hindered it may be over", OfNoAnswer)
            : new Suggestion("retry", "Try it once more", "it was refused; it may be refused again", OfRefusal);

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PreviewMade> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        foreach (var run in some.GroupBy(s => s.Mismatch.RunId!.Value))
        {
            var tried = await runs.TryAgainAsync(run.Key, cancel);
            if (tried.Fault is { } fault)
                not.AddRange(run.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
            else
                settled.AddRange(run.Select(s => s.Mismatch.Id));
        }

        return new Taken("It is tried once more", settled, not);
    }

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(PreviewMade part, string by, CancellationToken cancel) => Task.FromResult<Reason?>(null);

    /// <inheritdoc/>
    protected override PreviewMade Earlier(string text) => PreviewMade.Earlier(text);
}
