using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches;

/// <summary>
/// What a lane's newest comparison could not settle: values that are held or could not be computed, orders that are held, what was not
/// chosen, and what stopped it.
/// </summary>
/// <param name="kinds">What kinds of lanes know of their records themselves.</param>
public sealed class LaneMismatches(IEnumerable<ILaneTroubles> kinds) : IMismatchSource
{
    private IEnumerable<ILaneTroubles> OfKind(Lane lane) => kinds.Where(k => k.Kind == lane.Kind);

    /// <inheritdoc/>
    public string Family => "lane:";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<string>> OriginsAsync(NarbitContext db, CancellationToken cancel) =>
        await db.Lanes.Select(l => l.Id).ToListAsync(cancel);

    /// <inheritdoc/>
    public Task<IReadOnlyList<string>> ConcernedAsync(NarbitContext db, LiveEvent what, CancellationToken cancel) =>
        LaneOf.EventAsync(db, what, cancel);

    /// <inheritdoc/>
    public async Task<Look?> LookAsync(NarbitContext db, string origin, CancellationToken cancel)
    {
        if (await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == origin, cancel) is not { } lane)
            return null;
        var found = new List<FoundMismatch>();
        if (lane.ClosedAt is { } closed)
            found.Add(
                Whole(lane, "lane.closed", $"Nothing of this lane is sent while {lane.ClosedBy} pairs") with
                {
                    Since = closed,
                    CoupleId = null,
                }
            );
        found.AddRange(await DraftsAsync(db, lane, cancel));
        var last = await db.Runs.AsNoTracking().Where(r => r.LaneId == origin).OrderByDescending(r => r.Id).FirstOrDefaultAsync(cancel);
        if (last is null)
            return new Look(lane.ClosedAt ?? DateTimeOffset.UnixEpoch, found);
        if (!LaneWorks.Of(lane.Kind).Pairs)
            return new Look(last.PlannedAt ?? last.StartedAt, [.. found, .. await CorrectionsAsync(db, lane, last, cancel)]);
        found.AddRange(Stopped(lane, last));
        var standing = (await LaneStandings.OfAsync(db, [lane], cancel))[origin];
        if (standing is { RunId: { } compared, IsStale: false })
            found.AddRange(await ComparedAsync(db, lane, compared, standing, cancel));
        foreach (var troubles in OfKind(lane))
            found.AddRange(await troubles.OfAsync(db, lane, cancel));
        return new Look(Latest(last, standing), found);
    }

    // What is put right within a system waits for a person as every preview does.
    private static async Task<IEnumerable<FoundMismatch>> CorrectionsAsync(NarbitContext db, Lane lane, Run last, CancellationToken cancel)
    {
        var waiting =
            last.State == RunState.Ready ? await db.Writes.CountAsync(w => w.RunId == last.Id && w.State == WriteState.Planned, cancel) : 0;
        return waiting == 0 ? [] : [Preview(lane, last.Id, new LaneStanding { Planned = waiting, ComparedAt = last.PlannedAt })];
    }

    private static async Task<IEnumerable<FoundMismatch>> DraftsAsync(NarbitContext db, Lane lane, CancellationToken cancel)
    {
        var drafts = await db.Drafts.AsNoTracking().Where(d => d.LaneId == lane.Id && d.ThrownAt == null).ToListAsync(cancel);
        var part = LaneWorks.Of(lane.Kind).Part;
        return drafts.Select(d =>
            Whole(lane, "work.draft", $"{d.Person} has changed the {part} and not saved it") with
            {
                Key = d.Person,
                Since = d.At,
                Subject = part,
            }
        );
    }

    private static DateTimeOffset Latest(Run last, LaneStanding standing) =>
        new[] { standing.ComparedAt, last.PlannedAt, last.State == RunState.Failed ? last.EndedAt : null }.Max() ?? last.StartedAt;

    private static IEnumerable<FoundMismatch> Stopped(Lane lane, Run last)
    {
        if (last.State == RunState.Failed)
            yield return Whole(lane, "run.failed", last.Why?.Words ?? "The last run failed") with
            {
                RunId = last.Id,
                Since = last.EndedAt,
                Subject = last.Why?.Code,
            };
        if (last is { State: RunState.Ready, Preview: false, Tripped: { } tripped })
            yield return Whole(lane, "run.guard", TrippedGuard.Read(tripped)[0].Message) with
            {
                RunId = last.Id,
                Since = last.PlannedAt,
            };
    }

    private async Task<IReadOnlyList<FoundMismatch>> ComparedAsync(
        NarbitContext db,
        Lane lane,
        long compared,
        LaneStanding standing,
        CancellationToken cancel
    )
    {
        // A small run looks at a few records later than the comparison did, and may hold one of them.
        var small = await db
            .Runs.Where(r => r.LaneId == lane.Id && r.Id > compared && r.Only != null)
            .Select(r => r.Id)
            .ToListAsync(cancel);
        var found = new List<FoundMismatch>();
        if (standing.Held + standing.NotChosen + small.Count > 0)
            found.AddRange(await WritesAsync(db, lane, [.. small.OrderDescending(), compared], cancel));
        if (standing.NotComputed > 0 && !OfKind(lane).Any())
            found.AddRange(await RemarksAsync(db, lane, compared, cancel));
        if (standing.Planned > 0)
            found.Add(Preview(lane, compared, standing));
        return found;
    }

    private static FoundMismatch Preview(Lane lane, long run, LaneStanding standing) =>
        Whole(lane, "work.preview", $"{LaneWorks.Of(lane.Kind).Noun.Counted(standing.Planned)} would change; nothing is sent yet") with
        {
            RunId = run,
            Since = standing.ComparedAt,
        };

    private static async Task<IEnumerable<FoundMismatch>> WritesAsync(NarbitContext db, Lane lane, long[] runs, CancellationToken cancel)
    {
        var dismissed = await db
            .Runs.Where(r => runs.Contains(r.Id) && r.Why!.Code == "run.dismissed")
            .Select(r => r.Id)
            .ToListAsync(cancel);
        var writes = await db
            .Writes.AsNoTracking()
            .Where(w =>
                runs.Contains(w.RunId)
                && w.TakenBackIn == null
                && ((w.State == WriteState.Held && w.Hold != null) || (w.State == WriteState.Skipped && w.Fate == null))
            )
            .Select(w => new HeldWrite
            {
                RunId = w.RunId,
                State = w.State,
                SourceKey = w.SourceKey,
                TargetKey = w.TargetKey,
                Reference = w.Reference,
                Caption = w.Caption,
                Hold = w.Hold,
                Record = w.Record,
                Field = w.Fields.Where(f => f.Position == 0).Select(f => f.Field).FirstOrDefault(),
                Old = w.Fields.Where(f => f.Position == 0).Select(f => f.Old).FirstOrDefault(),
                New = w.Fields.Where(f => f.Position == 0).Select(f => f.New).FirstOrDefault(),
            })
            .ToListAsync(cancel);
        var currency = await db.Systems.Where(s => s.Id == lane.TargetId).Select(s => s.Currency).FirstOrDefaultAsync(cancel);
        return writes
            .Where(w => w.State == WriteState.Held || !dismissed.Contains(w.RunId))
            .OrderByDescending(w => w.RunId)
            .Select(w => Held(lane, w, currency));
    }

    private sealed record HeldWrite
    {
        public long RunId { get; init; }

        public WriteState State { get; init; }

        public required string SourceKey { get; init; }

        public required string TargetKey { get; init; }

        public string? Reference { get; init; }

        public string? Caption { get; init; }

        public KeptReason? Hold { get; init; }

        public RecordKind Record { get; init; }

        public string? Field { get; init; }

        public string? Old { get; init; }

        public string? New { get; init; }

        public decimal? Moved =>
            decimal.TryParse(Old, NumberStyles.Number, CultureInfo.InvariantCulture, out var before)
            && decimal.TryParse(New, NumberStyles.Number, CultureInfo.InvariantCulture, out var after)
                ? Math.Abs(after - before)
                : null;
    }

    private static FoundMismatch Held(Lane lane, HeldWrite write, string? currency)
    {
        var of = LaneWorks.Of(lane.Kind);
        return new FoundMismatch
        {
            Cause = write.Hold is { } hold && write.State == WriteState.Held ? $"held.{hold.Code}" : "work.notChosen",
            SystemId = lane.SourceId,
            Kind = write.Record,
            Key = write.SourceKey.Length > 0 ? write.SourceKey : write.TargetKey,
            Scope = lane.Id,
            OtherSystemId = lane.TargetId,
            OtherKey = write.TargetKey,
            LaneId = lane.Id,
            RunId = write.RunId,
            Reference = write.Reference,
            Caption = write.Caption,
            Words = write.State == WriteState.Held ? write.Hold!.Words : "It differs, and was not chosen when the rest was sent",
            Subject = write.State == WriteState.Held ? Subject(write.Hold!.Reason) ?? write.Field : write.Field,
            Worth = of.Stake == Stake.Money ? write.Moved : null,
            Currency = of.Stake == Stake.Money ? currency : null,
            Pieces = of.Stake == Stake.Pieces ? write.Moved : null,
        };
    }

    private static async Task<IEnumerable<FoundMismatch>> RemarksAsync(NarbitContext db, Lane lane, long run, CancellationToken cancel)
    {
        // What could not be read is told of the system that has it, once for all lanes.
        var remarks = await db.Remarks.AsNoTracking().Where(r => r.RunId == run && r.Why.Code != "unreadable").ToListAsync(cancel);
        return remarks.Select(r => new FoundMismatch
        {
            Cause = $"value.{r.Why.Code}",
            SystemId = r.SourceKey is null ? lane.TargetId : lane.SourceId,
            Kind = LaneWorks.Of(lane.Kind).Record,
            Key = r.SourceKey ?? r.TargetKey ?? r.Reference ?? "",
            Scope = lane.Id,
            OtherSystemId = lane.TargetId,
            OtherKey = r.TargetKey,
            LaneId = lane.Id,
            RunId = run,
            Reference = r.Reference,
            Caption = r.Caption,
            Words = r.Why.Words,
            Subject = Subject(r.Why.Reason),
        });
    }

    internal static FoundMismatch Whole(Lane lane, string cause, string words) =>
        new()
        {
            Cause = cause,
            SystemId = lane.TargetId,
            OtherSystemId = lane.SourceId,
            Kind = LaneWorks.Of(lane.Kind).Record,
            Scope = lane.Id,
            LaneId = lane.Id,
            Caption = lane.Name ?? LaneWorks.Of(lane.Kind).Label,
            Words = words,
        };

    /// <summary>What makes reasons of one code alike: the table and code that it lacks, or the field that it is about.</summary>
    internal static string? Subject(Reason why) =>
        why["table"] is { } table && why["from"] is { } from ? $"{table}: {from}" : why["field"] ?? why["do"];
}
