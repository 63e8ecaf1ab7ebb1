using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
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
        var opposite = new Opposite(run, lane);
        await using var db = database.CreateDbContext();
        foreach (var some in (await ToTakeBackAsync(db, run, cancel)).Chunk(Chunk))
        {
            var done = await db
                .Writes.AsNoTracking()
                .Include(w => w.Fields.OrderBy(f => f.Position))
                .Where(w => some.Contains(w.Id))
                .OrderBy(w => w.Id)
                .ToListAsync(cancel);
            foreach (var way in done.GroupBy(w => (w.Way, w.Record)))
            {
                var side = new WrittenSide(lane, way.Key.Way, way.Key.Record);
                var records = await RecordsAsync(db, side, [.. way.Select(side.Key)], cancel);
                foreach (var write in way)
                    opposite.Add(write, side, records.GetValueOrDefault(side.Key(write)));
            }
        }

        opposite.Writes.RemoveAll(w => w.Way == Way.Back && opposite.Stay.Contains(w.SourceKey));
        run.Paired = opposite.Writes.Count + opposite.Remarks.Count;
        run.InStep = 0;
        run.Remarked = opposite.Remarks.Count;
        (run.Phase, run.State) = (RunPhase.Finished, RunState.Ready);
        (run.PlannedAt, run.EndedAt) = (now, now);
        await new RunStore(database).StorePlanAsync(run, new RunPlan(opposite.Writes, opposite.Remarks, []), cancel);
    }

    private static async Task<IEnumerable<long>> ToTakeBackAsync(NarbitContext db, Run run, CancellationToken cancel)
    {
        var chosen = run.Chosen is null ? null : JsonSerializer.Deserialize<HashSet<long>>(run.Chosen);
        var confirmed = await db
            .Writes.Where(w => w.RunId == run.RollsBack && w.State == WriteState.Confirmed && w.TakenBackIn == null)
            .OrderBy(w => w.Id)
            .Select(w => new
            {
                w.Id,
                w.SourceKey,
                w.Act,
                w.Way,
            })
            .ToListAsync(cancel);
        // What was created is taken back with what the other side heard of it.
        var created = confirmed
            .Where(w => w.Act == WriteAct.Create && chosen?.Contains(w.Id) == true)
            .Select(w => w.SourceKey)
            .ToHashSet(StringComparer.Ordinal);
        return confirmed
            .Where(w => chosen?.Contains(w.Id) != false || (w.Way == Way.Back && created.Contains(w.SourceKey)))
            .Select(w => w.Id);
    }

    // A record as the mirror has it.
    private sealed record There(IReadOnlyDictionary<string, string> Values, RecordChildren Children);

    private static Task<Dictionary<string, There>> RecordsAsync(
        NarbitContext db,
        WrittenSide side,
        List<string> keys,
        CancellationToken cancel
    ) =>
        db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == side.System.Id && r.Kind == side.Kind.Kind && keys.Contains(r.Key) && r.GoneAt == null)
            .ToDictionaryAsync(
                r => r.Key,
                r => new There(StoredRecord.Values(r.Values), RecordChildren.Read(r.Children)),
                StringComparer.Ordinal,
                cancel
            );

    // The opposite of a run's writes, one by one.
    private sealed class Opposite(Run run, OpenLane lane)
    {
        public List<PlannedWrite> Writes { get; } = [];

        public List<RunRemark> Remarks { get; } = [];

        // Orders whose documents stay; what their stores know of them stays too.
        public HashSet<string> Stay { get; } = new(StringComparer.Ordinal);

        public void Add(PlannedWrite write, WrittenSide side, There? there)
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

        private void Return(PlannedWrite write, WrittenSide side, There there)
        {
            var fields = new List<PlannedField>();
            foreach (var field in write.Written)
            {
                // A field that the description no longer has cannot be written any more.
                if (side.Kind.Fields.Named(field.Field) is not { } described)
                {
                    Remark(write, "noField", $"{side.System.Name} no longer describes the field “{field.Field}”; it is left as it is");
                    continue;
                }

                var now = there.Values.GetValueOrDefault(field.Field);
                if (FieldComparison.Same(described.Type, now, field.New))
                    fields.Add(Back(write, field, described, now));
                else if (!FieldComparison.Same(described.Type, now, field.Old))
                    Remark(write, "movedOn", MovedOn(write, field, described, now));
            }

            if (fields.Find(f => f.Stays) is { } stays && fields.TrueForAll(f => f.Stays))
                Remark(write, CannotBeEmptied.Reason(side.Kind.Fields.Named(stays.Field)!, side.Connection));
            var lists = Lists(write, side, there);
            if (fields.TrueForAll(f => f.Stays) && lists is null)
                return;
            // What is written stands first.
            fields = [.. fields.OrderBy(f => f.Stays)];
            for (var i = 0; i < fields.Count; i++)
                fields[i].Position = i;
            var move = write.Way == Way.There && fields.Count > 0 ? lane.Work.MoveOf(fields[0].Old, fields[0].New) : null;
            var kind = write.Way == Way.Back ? ChangeKind.Back : ChangeSet.KindOf(move);
            var planned = Planned(write, WriteAct.Update, kind, fields, move);
            planned.Children = lists;
            Writes.Add(planned);
        }

        // The lists as they were before, where they are still what the run made of them.
        private string? Lists(PlannedWrite write, WrittenSide side, There there)
        {
            if (write.Children is null)
                return null;
            if (write.ChildrenBefore is null)
                Remark(write, "listsStay", $"what was added to its lists at {side.System.Name} stays; take it out there by hand");
            else if (RecordChildren.Read(write.Children).SameAs(there.Children, side.Kind.Fields.Children))
                return write.ChildrenBefore;
            else
                Remark(write, "movedOn", $"its lists were changed since run {write.RunId} wrote them; they are left as they are");
            return null;
        }

        private static string MovedOn(PlannedWrite write, PlannedField field, FieldDescription described, string? now) =>
            $"{described.Label} was changed to {now ?? "nothing"} since run {write.RunId} wrote {field.New ?? "nothing"}; "
            + "it is left as it is";

        private static PlannedField Back(PlannedWrite write, PlannedField field, FieldDescription described, string? now)
        {
            TraceStep[] trace =
            [
                new($"run {write.RunId}", field.Old, field.New, $"run {write.RunId} wrote it"),
                new("roll back", now, field.Old, "what was there before"),
            ];
            return new PlannedField
            {
                Field = field.Field,
                Old = now,
                New = field.Old,
                Stays = field.Old is null && now is not null && !described.CanBeEmptied,
                Trace = RuleJson.Write(trace),
            };
        }

        private void TakeAway(PlannedWrite write, WrittenSide side, There there)
        {
            if (lane.Work.Writing.InTheWay(lane, write, there.Values, there.Children) is { } inTheWay)
            {
                Remark(write, "tooFarOn", inTheWay);
                Stay.Add(write.SourceKey);
                return;
            }

            var published = side.Kind.Fields.Find(FieldRole.Published);
            if (side.Kind.Ends)
                Writes.Add(Planned(write, WriteAct.End, ChangeKind.Withdrawn, Hidden(published, null), null));
            else if (published is { Writable: true })
                Writes.Add(Planned(write, WriteAct.Update, ChangeKind.Withdrawn, Hidden(published, "false"), null));
            else
                Remark(write, "cannotEnd", $"{side.System.Name} lets its records be neither ended nor hidden; take it out there by hand");

            List<PlannedField> Hidden(FieldDescription? field, string? to)
            {
                if (field is null)
                    return [];
                TraceStep[] trace =
                [
                    new($"run {write.RunId}", null, side.Key(write), $"run {write.RunId} created it"),
                    new("roll back", side.Key(write), null, to is null ? "so it is ended" : "so it is hidden"),
                ];
                return
                [
                    new PlannedField
                    {
                        Field = field.Name,
                        Old = there.Values.GetValueOrDefault(field.Name),
                        New = to,
                        Trace = RuleJson.Write(trace),
                    },
                ];
            }
        }

        private PlannedWrite Planned(PlannedWrite write, WriteAct act, ChangeKind kind, List<PlannedField> fields, decimal? move) =>
            new()
            {
                RunId = run.Id,
                SourceKey = write.SourceKey,
                TargetKey = write.TargetKey,
                Reference = write.Reference,
                Caption = write.Caption,
                Kind = kind,
                Record = write.Record,
                Act = act,
                Way = write.Way,
                Move = (double?)move,
                MoveUnit = move is null ? null : lane.Work.MoveUnit,
                IdempotencyKey = ChangeSet.NewKey(),
                Fields = fields,
            };

        private void Remark(PlannedWrite write, string code, string words) => Remark(write, new Reason(code, words));

        private void Remark(PlannedWrite write, Reason why) =>
            Remarks.Add(
                new RunRemark
                {
                    RunId = run.Id,
                    SourceKey = write.SourceKey,
                    TargetKey = write.TargetKey,
                    Reference = write.Reference,
                    Caption = write.Caption,
                    Why = KeptReason.Of(why)!,
                }
            );
    }
}
