using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes.Corrections;

/// <summary>Keeps the values that persons put right within one system, as versions of its correction lane.</summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are reached.</param>
/// <param name="clock">The time.</param>
public sealed class CorrectionDesk(Database database, AdapterSource adapters, TimeProvider clock)
{
    /// <summary>Stores corrections as a new version of the system's correction lane, which is made where it is missing.</summary>
    /// <returns>The lane; starting its preview is up to the caller.</returns>
    public async Task<Outcome<string>> CorrectAsync(
        string systemId,
        IReadOnlyList<Correction> corrections,
        string by,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(systemId, cancel);
        if (connection.Fault is { } fault)
            return fault;
        var offered = connection.Value.Adapter.Kinds.First(k => k.Kind == RecordKind.Item);
        if (corrections.Count == 0)
            return new Reason("correction.nothing", "No correction is chosen, so there is nothing to send.");
        foreach (var correction in corrections)
        {
            if (offered.Fields.Fields.FirstOrDefault(f => f.Name == correction.Field) is not { Writable: true } || offered.BatchSize == 0)
                return new Reason(
                    "correction.notWritable",
                    $"{connection.Value.System.Name} does not let Narbit write “{correction.Field}”. Put it right there by "
                        + $"hand, then read it again."
                );
            if (string.IsNullOrWhiteSpace(correction.Value))
                return new Reason("correction.empty", $"The correction of {correction.Key} has no value.");
        }

        await using var db = database.CreateDbContext();
        var id = $"corrections-{systemId}";
        var document = new CorrectionDocument(await WithWaitingAsync(db, id, corrections, cancel));
        var lane = await db.Lanes.FirstOrDefaultAsync(l => l.Id == id, cancel);
        if (lane is null)
            db.Lanes.Add(
                lane = new Lane
                {
                    Id = id,
                    Kind = LaneWorks.Of(document).Kind,
                    SourceId = systemId,
                    TargetId = systemId,
                }
            );
        lane.RuleNumber++;
        db.RuleVersions.Add(
            new RuleVersion
            {
                LaneId = id,
                Number = lane.RuleNumber,
                Document = LaneJson.Write(document),
                Author = by,
                At = clock.GetUtcNow(),
                Note = $"{corrections.Count} {(corrections.Count == 1 ? "value" : "values")} put right",
            }
        );
        await db.SaveChangesAsync(cancel);
        return id;
    }

    // Corrections that wait to be sent are not forgotten by those that come after them.
    private static async Task<IReadOnlyList<Correction>> WithWaitingAsync(
        NarbitContext db,
        string laneId,
        IReadOnlyList<Correction> corrections,
        CancellationToken cancel
    )
    {
        var last = await db.Runs.AsNoTracking().Where(r => r.LaneId == laneId).OrderByDescending(r => r.Id).FirstOrDefaultAsync(cancel);
        if (last is not { State: RunState.Ready })
            return corrections;
        var version = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == laneId && v.Number == last.RuleNumber, cancel);
        var waiting = (LaneJson.Read(version.Document).ValueOrDefault as CorrectionDocument)?.Corrections ?? [];
        return [.. corrections.Concat(waiting).DistinctBy(c => (c.Key, c.Field))];
    }
}
