using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Items;

/// <summary>A value that a field got: when, from which value, and who or what set it.</summary>
public sealed record HistoryEntry
{
    public required DateTimeOffset At { get; init; }

    public required string Field { get; init; }

    public required string Label { get; init; }

    public required string? Old { get; init; }

    public required string? New { get; init; }

    public required string By { get; init; }

    public required long? RunId { get; init; }

    public required long? WriteId { get; init; }

    public required string? LaneId { get; init; }

    public required int? RuleNumber { get; init; }
}

/// <summary>The values of a record over time, newest first, and what it has now.</summary>
public sealed record RecordHistory(
    SystemTag System,
    string Key,
    string? Reference,
    string? Caption,
    IReadOnlyList<HistoryField> Fields,
    IReadOnlyList<HistoryEntry> Entries
);

/// <summary>A field and what it has now.</summary>
public sealed record HistoryField(string Field, string Label, FieldType Type, string? Unit, string? Now);

/// <summary>What was a value on a certain day, and who or what set it.</summary>
public static class HistoryApi
{
    private const int Most = 500;

    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/systems/{id}/items/{key}/history", GetAsync).WithName("recordHistory").WithTags("Items");

    private static async Task<Results<Ok<RecordHistory>, ProblemHttpResult>> GetAsync(
        string id,
        string key,
        string? field,
        DateTimeOffset? on,
        DateOnly? day,
        Database database,
        AdapterFields fields,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, cancel);
        if (system is null)
            return Api.Problems.NotFound($"There is no system “{id}”.");
        var record = await db
            .Records.AsNoTracking()
            .FirstOrDefaultAsync(r => r.SystemId == id && r.Kind == RecordKind.Item && r.Key == key, cancel);
        if (record is null)
            return Api.Problems.NotFound($"The mirror has no record {key} of {system.Name}.");
        // A day ends when it does where the workspace is.
        if (day is { } date)
            on = await EndAsync(db, date, cancel);
        var described = (await fields.OfAsync(id, cancel))?.Fields ?? [];
        string Label(string name) => described.FirstOrDefault(f => f.Name == name)?.Label ?? name;
        FieldType Type(string name) => described.FirstOrDefault(f => f.Name == name)?.Type ?? FieldType.Text;

        var written = await (
            from w in db.Writes
            join f in db.WriteFields on w.Id equals f.WriteId
            join r in db.Runs on w.RunId equals r.Id
            join l in db.Lanes on r.LaneId equals l.Id
            where
                w.State == WriteState.Confirmed
                && w.ConfirmedAt != null
                && (
                    (l.TargetId == id && w.Way == Way.There && w.TargetKey == key)
                    || (l.SourceId == id && w.Way == Way.Back && w.SourceKey == key)
                )
            where field == null || f.Field == field
            orderby w.ConfirmedAt descending
            select new
            {
                w,
                f,
                r,
                l,
            }
        )
            .AsNoTracking()
            .Take(Most)
            .ToListAsync(cancel);
        var entries = written
            .Select(x => new HistoryEntry
            {
                At = x.w.ConfirmedAt!.Value,
                Field = x.f.Field,
                Label = Label(x.f.Field),
                Old = x.f.Old,
                New = x.f.New,
                By = $"{x.r.StartedBy}, {Doing(x.r, x.l)}",
                RunId = x.r.Id,
                WriteId = x.w.Id,
                LaneId = x.l.Id,
                RuleNumber = x.r.RuleNumber,
            })
            .ToList();

        // What was seen to change and was not Narbit's own doing.
        var seen = await db
            .ValueChanges.AsNoTracking()
            .Where(v => v.SystemId == id && v.Kind == RecordKind.Item && v.Key == key && (field == null || v.Field == field))
            .OrderByDescending(v => v.Id)
            .Take(Most)
            .ToListAsync(cancel);
        foreach (var change in seen)
        {
            var own = written.Exists(x =>
                x.f.Field == change.Field
                && FieldComparison.Same(Type(change.Field), x.f.New, change.New)
                && (x.w.SentAt ?? x.w.ConfirmedAt) <= change.At.AddSeconds(1)
                && change.At <= x.w.ConfirmedAt!.Value.AddSeconds(5)
            );
            if (!own)
                entries.Add(
                    new HistoryEntry
                    {
                        At = change.At,
                        Field = change.Field,
                        Label = Label(change.Field),
                        Old = change.Old,
                        New = change.New,
                        By = $"changed in {system.Name}",
                        RunId = null,
                        WriteId = null,
                        LaneId = null,
                        RuleNumber = null,
                    }
                );
        }

        var values = Engine.Reading.StoredRecord.Values(record.Values);
        IEnumerable<HistoryEntry> ordered = entries.OrderByDescending(e => e.At);
        // On a day: the value that each field had at its end.
        if (on is { } until)
            ordered = ordered.Where(e => e.At <= until).DistinctBy(e => e.Field);
        return TypedResults.Ok(
            new RecordHistory(
                LaneViews.Tag(system),
                key,
                record.Reference,
                record.Caption,
                [.. described.Select(f => new HistoryField(f.Name, f.Label, f.Type, f.Unit, values.GetValueOrDefault(f.Name)))],
                [.. ordered]
            )
        );
    }

    private static async Task<DateTimeOffset> EndAsync(NarbitContext db, DateOnly day, CancellationToken cancel) =>
        Zones.Midnight(day.AddDays(1), await Zones.OfWorkspaceAsync(db, cancel)).AddTicks(-1);

    // What a run was doing when it wrote.
    private static string Doing(Run run, Lane lane) =>
        run.RollsBack is { } undone
            ? $"taking run {undone} back"
            : $"run {run.Id} of {LaneWorks.Of(lane.Kind).Label.ToLowerInvariant()}, version {run.RuleNumber}";
}
