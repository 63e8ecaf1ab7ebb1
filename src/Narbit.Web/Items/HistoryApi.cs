using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Items;

/// <summary>A value that a field got: when, from which value, and who or what set it.</summary>
/// <param name="At">When it was confirmed, or first seen.</param>
/// <param name="Field">The field.</param>
/// <param name="Label">Its label.</param>
/// <param name="Old">The value before.</param>
/// <param name="New">The value from then on.</param>
/// <param name="By">Who or what set it, in words.</param>
/// <param name="RunId">The run that did, or null where it was changed in the system itself.</param>
/// <param name="WriteId">Its write.</param>
/// <param name="LaneId">The lane.</param>
/// <param name="RuleNumber">The version of the lane's rule.</param>
public sealed record HistoryEntry(
    DateTimeOffset At,
    string Field,
    string Label,
    string? Old,
    string? New,
    string By,
    long? RunId,
    long? WriteId,
    string? LaneId,
    int? RuleNumber
);

/// <summary>The values of a record over time, newest first, and what it has now.</summary>
public sealed record RecordHistory(
    SystemTag System,
    string Key,
    string? Sku,
    string? Title,
    IReadOnlyList<HistoryField> Fields,
    IReadOnlyList<HistoryEntry> Entries
);

/// <summary>A field and what it has now.</summary>
public sealed record HistoryField(string Field, string Label, string? Unit, string? Now);

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
                && ((l.TargetId == id && !w.ToSource && w.TargetKey == key) || (l.SourceId == id && w.ToSource && w.HubKey == key))
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
            .Select(x => new HistoryEntry(
                x.w.ConfirmedAt!.Value,
                x.f.Field,
                Label(x.f.Field),
                x.f.Old,
                x.f.New,
                $"{x.r.StartedBy}, {(x.r.RollsBack is { } undone ? $"taking run {undone} back" : $"run {x.r.Id} of {LanesApi.Name(x.l.Kind).ToLowerInvariant()}, version {x.r.RuleNumber}")}",
                x.r.Id,
                x.w.Id,
                x.l.Id,
                x.r.RuleNumber
            ))
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
                    new HistoryEntry(
                        change.At,
                        change.Field,
                        Label(change.Field),
                        change.Old,
                        change.New,
                        $"changed in {system.Name}",
                        null,
                        null,
                        null,
                        null
                    )
                );
        }

        var values = Engine.Reading.StoredRecord.Values(record.Values);
        IEnumerable<HistoryEntry> ordered = entries.OrderByDescending(e => e.At);
        // On a day: the value that each field had at its end.
        if (on is { } until)
            ordered = ordered.Where(e => e.At <= until).DistinctBy(e => e.Field);
        return TypedResults.Ok(
            new RecordHistory(
                LanesApi.Tag(system),
                key,
                record.Sku,
                record.Title,
                [.. described.Select(f => new HistoryField(f.Name, f.Label, f.Unit, values.GetValueOrDefault(f.Name)))],
                [.. ordered]
            )
        );
    }

    private static async Task<DateTimeOffset> EndAsync(NarbitContext db, DateOnly day, CancellationToken cancel)
    {
        var zone = TimeZoneInfo.TryFindSystemTimeZoneById(
            await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel) ?? "UTC",
            out var found
        )
            ? found
            : TimeZoneInfo.Utc;
        var midnight = day.AddDays(1).ToDateTime(TimeOnly.MinValue);
        return new DateTimeOffset(midnight, zone.GetUtcOffset(midnight)).AddTicks(-1);
    }
}
