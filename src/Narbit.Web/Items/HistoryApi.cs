using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Items;

/// <summary>Who or what set a value.</summary>
/// <param name="By">In words.</param>
/// <param name="RunId">The run that wrote it; null: no run of ours did.</param>
/// <param name="WriteId">The write in it.</param>
/// <param name="LaneId">The run's lane.</param>
/// <param name="RuleNumber">The version of the lane's rule or map that computed it.</param>
internal sealed record Setter(string By, long? RunId = null, long? WriteId = null, string? LaneId = null, int? RuleNumber = null);

/// <summary>A value that a field got.</summary>
/// <param name="Id">Tells it from all others.</param>
/// <param name="At">When it was seen.</param>
/// <param name="Field">See <see cref="HistoryField.Field"/>.</param>
/// <param name="Label">The field, in words.</param>
/// <param name="Old">The value before; null: there was none.</param>
/// <param name="New">The value from then on; null: there was none.</param>
/// <param name="Set">Who or what set it.</param>
internal sealed record HistoryEntry(long Id, DateTimeOffset At, string Field, string Label, string? Old, string? New, Setter Set);

/// <summary>What a field was at the instant that was asked for.</summary>
/// <param name="Value">The value; null: there was none.</param>
/// <param name="Since">Since when it is known to have been so.</param>
/// <param name="Until">When it was seen to have changed; null: it has it still.</param>
/// <param name="Earlier">Whether the instant lies before the record was first read, so that this is the first value that is known.</param>
/// <param name="Set">Who or what set it.</param>
internal sealed record FieldThen(string? Value, DateTimeOffset Since, DateTimeOffset? Until, bool Earlier, Setter Set);

/// <summary>A field and what it has now.</summary>
/// <param name="Field">Its name; for a part of the item, e.g. a stock level, with the part's key before it.</param>
/// <param name="Label">In words.</param>
/// <param name="Type">The type of its values.</param>
/// <param name="Unit">What they are counted in; null: nothing.</param>
/// <param name="Now">As last read.</param>
/// <param name="Then">As it was at the instant that was asked for; null: none was.</param>
internal sealed record HistoryField(string Field, string Label, FieldType Type, string? Unit, string? Now, FieldThen? Then);

/// <summary>The values of a record over time, newest first, and what it has now.</summary>
internal sealed record RecordHistory
{
    public required SystemTag System { get; init; }

    public required string Key { get; init; }

    public required string? Reference { get; init; }

    public required string? Caption { get; init; }

    /// <summary>When the record was read for the first time; nothing is known of it before.</summary>
    public required DateTimeOffset FirstReadAt { get; init; }

    /// <summary>Who made the record, or by whom it was there when it was first read.</summary>
    public required Setter First { get; init; }

    /// <summary>The instant that was asked for.</summary>
    public required DateTimeOffset? At { get; init; }

    public required IReadOnlyList<HistoryField> Fields { get; init; }

    public required IReadOnlyList<HistoryEntry> Entries { get; init; }
}

/// <summary>What was a value at a certain instant, and who or what set it.</summary>
internal static class HistoryApi
{
    private const int Most = 500;

    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/systems/{id}/items/{key}/history", GetAsync).WithName("recordHistory").WithTags("Items");

    // “clock” is what a clock in the workspace showed; “at” an instant.
    private static async Task<Results<Ok<RecordHistory>, ProblemHttpResult>> GetAsync(
        string id,
        string key,
        string? field,
        DateTimeOffset? at,
        DateTime? clock,
        Database database,
        AdapterFields fields,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.IgnoreQueryFilters().AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, cancel);
        if (system is null)
            return Api.Problems.NotFound($"There is no system “{id}”.");
        var book = new HistoryBook(db);
        var records = await book.RecordsAsync(id, key, cancel);
        if (records.Count == 0)
            return Api.Problems.NotFound($"The mirror has no record {key} of {system.Name}.");
        if (clock is { } shown)
            at = Zones.Instant(shown, await Zones.OfWorkspaceAsync(db, cancel));

        var (item, created) = (records[0].Record, records[0].CreatedBy);
        var first = created is null ? new Setter($"as first read from {system.Name}") : Own(created);
        var known = new List<HistoryField>();
        foreach (var record in records)
        {
            var described = await fields.OfAsync(id, cancel, record.Record.Kind);
            var around = at is { } instant ? await book.AroundAsync(record.Record, instant, cancel) : null;
            known.AddRange(Fields(record.Record, described, at, around, record == records[0] ? first : null, system.Name));
        }

        var changes = await ChangesAsync(book, records, field, cancel);
        var labels = known.ToDictionary(f => f.Field, f => f.Label, StringComparer.Ordinal);
        var entries = changes
            .Select(c => new { Name = Name(item, c.Change.Kind, c.Change.Key, c.Change.Field), c })
            .Select(x => Entry(x.Name, labels.GetValueOrDefault(x.Name) ?? x.c.Change.Field, x.c, system.Name));
        return TypedResults.Ok(
            new RecordHistory
            {
                System = SystemTag.Of(system),
                Key = key,
                Reference = item.Reference,
                Caption = item.Caption,
                FirstReadAt = item.FirstReadAt,
                First = first,
                At = at,
                Fields = known,
                Entries = [.. entries],
            }
        );
    }

    // A field of a part has the part's key before its name.
    private static Task<IReadOnlyList<KnownChange>> ChangesAsync(
        HistoryBook book,
        IReadOnlyList<KeptRecord> records,
        string? field,
        CancellationToken cancel
    )
    {
        if (field is null)
            return book.ChangesAsync([.. records.Select(r => r.Record)], null, Most, cancel);
        var of = records.Skip(1).FirstOrDefault(r => field.StartsWith($"{r.Record.Key}/", StringComparison.Ordinal));
        return of is null
            ? book.ChangesAsync([records[0].Record], field, Most, cancel)
            : book.ChangesAsync([of.Record], field[(of.Record.Key.Length + 1)..], Most, cancel);
    }

    private static IEnumerable<HistoryField> Fields(
        MirrorRecord record,
        FieldSet? described,
        DateTimeOffset? at,
        IReadOnlyDictionary<string, (KnownChange? Before, KnownChange? After)>? around,
        Setter? first,
        string system
    )
    {
        var values = StoredRecord.Values(record.Values);
        var isPart = record.Kind != RecordKind.Item;
        // Of a part, what tells it from the others is its name and not a value.
        var place = isPart ? described?.Text(values, FieldRole.Location) ?? record.Key : null;
        foreach (var f in described?.Fields ?? [])
        {
            if (isPart && f.Role is FieldRole.Location or FieldRole.Item)
                continue;
            var now = values.GetValueOrDefault(f.Name);
            yield return new HistoryField(
                isPart ? $"{record.Key}/{f.Name}" : f.Name,
                isPart ? $"{f.Label}, {place}" : f.Label,
                f.Type,
                f.Unit,
                now,
                at is { } instant ? Then(record, instant, now, around!.GetValueOrDefault(f.Name), first, system) : null
            );
        }
    }

    private static FieldThen Then(
        MirrorRecord record,
        DateTimeOffset at,
        string? now,
        (KnownChange? Before, KnownChange? After) around,
        Setter? first,
        string system
    )
    {
        var then = ValueTimeline.At(at, record.FirstReadAt, now, Seen(around.Before), Seen(around.After));
        var set = around.Before is { } setBy ? Set(setBy, system) : first ?? new Setter($"as first read from {system}");
        return new FieldThen(then.Value, then.Since, then.Until, then.Earlier, set);
    }

    private static SeenChange? Seen(KnownChange? known) =>
        known is null ? null : new SeenChange(known.Change.At, known.Change.Old, known.Change.New);

    private static string Name(MirrorRecord item, RecordKind kind, string key, string field) =>
        kind == item.Kind && key == item.Key ? field : $"{key}/{field}";

    private static HistoryEntry Entry(string name, string label, KnownChange known, string system) =>
        new(known.Change.Id, known.Change.At, name, label, known.Change.Old, known.Change.New, Set(known, system));

    private static Setter Set(KnownChange known, string system) => known.Write is { } own ? Own(own) : new Setter($"changed in {system}");

    private static Setter Own(OwnWrite own) =>
        new($"{own.Run.StartedBy}, {Doing(own)}", own.Run.Id, own.Write.Id, own.Lane.Id, own.Run.RuleNumber);

    // What a run was doing when it wrote.
    private static string Doing(OwnWrite own) =>
        own.Run.RollsBack is { } undone ? $"taking run {undone} back"
        : own.Write.Act == WriteAct.Create ? $"created in {Of(own)}"
        : Of(own);

    private static string Of(OwnWrite own) =>
        $"run {own.Run.Id} of {LaneWorks.Of(own.Lane.Kind).Label.ToLowerInvariant()}, version {own.Run.RuleNumber}";
}
