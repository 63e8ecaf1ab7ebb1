using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Proofs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Proofs;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// What the newest full compare of a lane found that no run had noticed: values that somebody changed at the target, and values that were
/// taken for something else. The lane's next comparison sees to them, and says itself what it holds.
/// </summary>
public sealed class ProofMismatches : IMismatchSource
{
    /// <inheritdoc/>
    public string Family => "proof:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Lanes.Where(l => db.Proofs.Any(p => p.LaneId == l.Id)).Select(l => l.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        what is { Topic: ProofDesk.Topic, Done: null } ? await OriginsAsync(db, cancel) : await LaneOf.EventAsync(db, what, cancel);

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == origin, cancel);
        var proof = await db
            .Proofs.AsNoTracking()
            .Where(p => p.LaneId == origin && p.Why == null)
            .OrderByDescending(p => p.Id)
            .FirstOrDefaultAsync(cancel);
        if (lane is null || proof is null)
            return null;
        if (lane.ComparedAt is { } compared && compared > proof.At)
            return new Look(compared, []);
        var lines = await db
            .ProofLines.AsNoTracking()
            .Where(l => l.ProofId == proof.Id && (l.Finding == StepFinding.ChangedThere || l.Finding == StepFinding.Mistaken))
            .ToListAsync(cancel);
        return new Look(proof.At, [.. lines.Select(l => Of(lane, l))]);
    }

    private static FoundMismatch Of(Data.Lanes.Lane lane, ProofLine line)
    {
        var work = LaneWorks.Of(lane.Kind);
        var (values, changed) = (!work.Record.TellsOfPersons, line.Finding == StepFinding.ChangedThere);
        return new FoundMismatch
        {
            Cause = changed ? "drift.changedThere" : "drift.mistaken",
            SystemId = lane.SourceId,
            Kind = work.Record,
            Key = line.SourceKey,
            Scope = $"{lane.Id}/{line.Field}",
            OtherSystemId = lane.TargetId,
            OtherKey = line.TargetKey,
            LaneId = lane.Id,
            Reference = line.Reference,
            Caption = line.Caption,
            Words =
                !values ? $"{line.Field} is another there than it was left"
                : changed ? $"{line.Field} is {Shown(line.There)} there, and was left as {Shown(line.Before)}"
                : $"{line.Field} was taken for {Shown(line.Before)}, and is {Shown(line.There)}",
            Subject = line.Field,
        };
    }

    private static string Shown(string? value) => string.IsNullOrEmpty(value) ? "nothing" : $"“{value}”";
}
