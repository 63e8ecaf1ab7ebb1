using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Runs;

/// <summary>
/// Plans the opposite of a run: the old values, wherever the other side still holds what that run wrote. What has moved on since is left
/// alone and remarked.
/// </summary>
/// <param name="database">Where the runs and the mirror are.</param>
/// <param name="clock">The time.</param>
internal sealed class RollBackStep(Database database, TimeProvider clock)
{
    private const int Chunk = 400;

    /// <summary>Plans and stores; afterwards the run is ready for a person.</summary>
    public async Task PlanAsync(Run run, OpenLane lane, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var (writes, remarks) = (new List<PlannedWrite>(), new List<RunRemark>());
        await using var db = database.CreateDbContext();
        var chosen = run.Chosen is null ? null : JsonSerializer.Deserialize<HashSet<long>>(run.Chosen);
        var ids = (
            await db
                .Writes.Where(w => w.RunId == run.RollsBack && w.State == WriteState.Confirmed && w.TakenBackIn == null)
                .OrderBy(w => w.Id)
                .Select(w => w.Id)
                .ToListAsync(cancel)
        ).Where(id => chosen?.Contains(id) != false);
        foreach (var some in ids.Chunk(Chunk))
        {
            var done = await db
                .Writes.AsNoTracking()
                .Include(w => w.Fields.OrderBy(f => f.Position))
                .Where(w => some.Contains(w.Id))
                .OrderBy(w => w.Id)
                .ToListAsync(cancel);
            foreach (var group in done.GroupBy(w => w.ToSource))
            {
                var side = new WrittenSide(lane, group.Key);
                var keys = group.Select(side.Key).ToList();
                var records = await db
                    .Records.AsNoTracking()
                    .Where(r => r.SystemId == side.System.Id && r.Kind == RecordKind.Item && keys.Contains(r.Key) && r.GoneAt == null)
                    .ToDictionaryAsync(r => r.Key, r => StoredRecord.Values(r.Values), StringComparer.Ordinal, cancel);
                foreach (var write in group)
                    Opposite(write, side, records.GetValueOrDefault(side.Key(write)));
            }
        }

        (run.Paired, run.InStep, run.Remarked, run.PlannedAt) = (writes.Count + remarks.Count, 0, remarks.Count, now);
        (run.Phase, run.State, run.EndedAt) = (RunPhase.Finished, RunState.Ready, now);
        await new RunStore(database).StorePlanAsync(run, writes, remarks, [], cancel);

        void Opposite(PlannedWrite write, WrittenSide side, Dictionary<string, string>? there)
        {
            if (there is null)
                Remark(write, "gone", $"{side.System.Name} no longer has it, so there is nothing to take back");
            else if (write.Act == WriteAct.Create)
                TakeAway(write, side, there);
            else if (write.Act == WriteAct.End)
                Remark(write, "ended", "it was ended, which cannot be taken back; publish it anew");
            else
                Return(write, side, there);
        }

        void Return(PlannedWrite write, WrittenSide side, Dictionary<string, string> there)
        {
            var fields = new List<PlannedField>();
            foreach (var field in write.Fields)
            {
                var described = side.Kind.Fields.Fields.First(f => f.Name == field.Field);
                var now = there.GetValueOrDefault(field.Field);
                if (FieldComparison.Same(described.Type, now, field.New))
                    fields.Add(
                        new PlannedField
                        {
                            Field = field.Field,
                            Position = fields.Count,
                            Old = now,
                            New = field.Old,
                            Trace = RuleJson.Write([
                                new TraceStep($"run {write.RunId}", field.Old, field.New, $"run {write.RunId} wrote it"),
                                new TraceStep("roll back", now, field.Old, "what was there before"),
                            ]),
                        }
                    );
                else if (!FieldComparison.Same(described.Type, now, field.Old))
                    Remark(
                        write,
                        "movedOn",
                        $"{described.Label} was changed to {now ?? "nothing"} since run {write.RunId} wrote "
                            + $"{field.New ?? "nothing"}; it is left as it is"
                    );
            }

            if (fields.Count == 0)
                return;
            var move = lane.Lane.Kind switch
            {
                LaneKind.Price => Numbers.Move(Number(fields[0].Old), Number(fields[0].New)),
                LaneKind.Stock => Number(fields[0].New) - Number(fields[0].Old),
                _ => null,
            };
            writes.Add(
                Planned(
                    write,
                    WriteAct.Update,
                    move switch
                    {
                        > 0 => ChangeKind.Up,
                        < 0 => ChangeKind.Down,
                        _ => write.ToSource ? ChangeKind.Back : ChangeKind.Other,
                    },
                    fields,
                    (double?)move
                )
            );
        }

        void TakeAway(PlannedWrite write, WrittenSide side, Dictionary<string, string> there)
        {
            var published = side.Kind.Fields.Find(FieldRole.Published);
            var old = published is null ? null : there.GetValueOrDefault(published.Name);
            var trace = RuleJson.Write([
                new TraceStep($"run {write.RunId}", null, write.TargetKey, $"run {write.RunId} created it"),
                new TraceStep("roll back", write.TargetKey, null, side.Kind.Ends ? "so it is ended" : "so it is hidden"),
            ]);
            if (side.Kind.Ends)
                writes.Add(
                    Planned(
                        write,
                        WriteAct.End,
                        ChangeKind.Gone,
                        published is null
                            ? []
                            :
                            [
                                new PlannedField
                                {
                                    Field = published.Name,
                                    Old = old,
                                    New = null,
                                    Trace = trace,
                                },
                            ],
                        null
                    )
                );
            else if (published is { Writable: true })
                writes.Add(
                    Planned(
                        write,
                        WriteAct.Update,
                        ChangeKind.Gone,
                        [
                            new PlannedField
                            {
                                Field = published.Name,
                                Old = old,
                                New = "false",
                                Trace = trace,
                            },
                        ],
                        null
                    )
                );
            else
                Remark(write, "cannotEnd", $"{side.System.Name} lets its records be neither ended nor hidden; take it out there by hand");
        }

        PlannedWrite Planned(PlannedWrite write, WriteAct act, ChangeKind kind, List<PlannedField> fields, double? move) =>
            new()
            {
                RunId = run.Id,
                HubKey = write.HubKey,
                TargetKey = write.TargetKey,
                Sku = write.Sku,
                Title = write.Title,
                Kind = kind,
                Act = act,
                ToSource = write.ToSource,
                Move = move,
                IdempotencyKey = $"{run.Id}-{write.TargetKey}-{Guid.NewGuid():N}",
                Fields = fields,
            };

        void Remark(PlannedWrite write, string cause, string message) =>
            remarks.Add(
                new RunRemark
                {
                    RunId = run.Id,
                    HubKey = write.HubKey,
                    TargetKey = write.TargetKey,
                    Sku = write.Sku,
                    Title = write.Title,
                    Cause = cause,
                    Message = message,
                }
            );
    }

    private static decimal? Number(string? text) =>
        decimal.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var number) ? number : null;
}
