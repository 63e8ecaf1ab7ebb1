using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.Items;

/// <summary>
/// Limits a text to what the target takes, at the end of a word, as a step of the map: what is too long today and what will be.
/// </summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class LimitText(Database database, AdapterSource adapters, LiveFeed live, TimeProvider clock) : WayOut<SavedVersion>
{
    private const double OfLimit = 0.75;

    private readonly MapVersions _versions = new(database, adapters, live, clock);

    /// <inheritdoc/>
    public override string Act => "limit";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause is "ready.titleTooLong" or "value.map.tooLong";

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var found = new List<Suggested>();
        foreach (var between in some.GroupBy(m => (m.SystemId, m.OtherSystemId, m.LaneId)))
        {
            if (await LaneAsync(db, between.First(), cancel) is not { Document.Mapped: { } map } lane)
                continue;
            foreach (var field in between.GroupBy(m => FieldOf(lane, m), StringComparer.Ordinal))
                if (field.Key is { } name && Place(lane, map, name) is { } place)
                    found.AddRange(field.Select(m => new Suggested(m, Of(m, place, field.Count()))));
        }

        return found;
    }

    private sealed record Limited(string Lane, string Field, string Label, int Most, string? Older);

    // What the readiness check finds belongs to the lane of items between the two systems.
    private async Task<OpenLane?> LaneAsync(NarbitContext db, Mismatch mismatch, CancellationToken cancel)
    {
        var items = ItemWork.Code;
        var id =
            mismatch.LaneId
            ?? await db
                .Lanes.Where(l => l.Kind == items && l.SourceId == mismatch.SystemId && l.TargetId == mismatch.OtherSystemId)
                .Select(l => l.Id)
                .FirstOrDefaultAsync(cancel);
        return id is null ? null : (await OpenLane.ForAsync(database, adapters, id, cancel)).ValueOrDefault;
    }

    private static string? FieldOf(OpenLane lane, Mismatch mismatch) =>
        mismatch.Cause == "ready.titleTooLong" ? lane.Sides.Target.Find(FieldRole.Title)?.Name : mismatch.Subject;

    private static Limited? Place(OpenLane lane, FieldMap map, string field)
    {
        var described = lane.Sides.Target.Fields.FirstOrDefault(f => f.Name == field);
        if (described?.MaxLength is not { } most || map.Fields.FirstOrDefault(f => f.Target == field) is not { } mapping)
            return null;
        var older = TextLimit.Of(mapping);
        return older <= most ? null : new Limited(lane.Lane.Id, field, described.Label, most, older is null ? null : $"{older} characters");
    }

    private static Suggestion Of(Mismatch mismatch, Limited place, int count) =>
        new(
            "limit",
            $"Limit {place.Label.ToLowerInvariant()} to {place.Most} characters, at a word's end",
            mismatch.Caption is { } text && text.Length > place.Most
                ? $"“{LimitedText.Of(text, place.Most, word: true, ellipsis: false)}”"
                : "it takes no more",
            OfLimit,
            JsonText.WriteNames([place.Lane, place.Field, place.Most.ToString(CultureInfo.InvariantCulture)]),
            Learns: true
        )
        {
            Effect =
                (count == 1 ? "1 record here has a longer one" : $"{count:N0} records here have a longer one")
                + (place.Older is { } older ? $"; it replaces the limit of {older}" : ""),
        };

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<SavedVersion> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        foreach (var place in some.GroupBy(s => s.Suggestion.Value!, StringComparer.Ordinal))
        {
            var (lane, field, most) = Read(place.Key);
            var saved = await _versions.SaveAsync(
                lane,
                (_, map) => With(map, field, most),
                $"“{field}” limited to {most} characters from the mismatch desk",
                by,
                log.ActId,
                cancel
            );
            if (saved.Fault is { } fault)
            {
                not.AddRange(place.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
                continue;
            }

            await log.DoneAsync(saved.Value);
            settled.AddRange(place.Select(s => s.Mismatch.Id));
        }

        return new Taken("The map limits the text; the next run takes it", settled, not);
    }

    private static (string Lane, string Field, int Most) Read(string place)
    {
        var parts = JsonText.ReadNames(place)!;
        return (parts[0], parts[1], int.Parse(parts[2], CultureInfo.InvariantCulture));
    }

    private static Outcome<FieldMap> With(FieldMap map, string field, int most)
    {
        if (map.Fields.FirstOrDefault(f => f.Target == field) is not { } mapping)
            return new Reason("map.noField", $"The map no longer has “{field}”; look at it once more.");
        var step = new MapStep(
            TextLimit.Step,
            new Dictionary<string, string> { [TextLimit.Length] = most.ToString(CultureInfo.InvariantCulture), ["at"] = "word" }
        );
        // A longer limit at the end would have no effect any more.
        var steps = mapping.Steps is [.., { Do: TextLimit.Step }] ? mapping.Steps.SkipLast(1) : mapping.Steps;
        var limited = mapping with { Steps = [.. steps, step] };
        return map with { Fields = [.. map.Fields.Select(f => f == mapping ? limited : f)] };
    }

    /// <inheritdoc/>
    protected override Task<IReadOnlyList<SavedVersion>> BegunAsync(NarbitContext db, long act, CancellationToken cancel) =>
        MapVersions.OfActAsync(db, act, cancel);

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(SavedVersion part, string by, CancellationToken cancel) =>
        _versions.TakeBackAsync(part, by, cancel);

    /// <inheritdoc/>
    protected override Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<SavedVersion> parts,
        DateTimeOffset at,
        CancellationToken cancel
    ) => MapVersions.LessonsAsync(db, parts, (before, after) => Limits(after).Except(Limits(before)), "map", cancel);

    private static IEnumerable<string> Limits(FieldMap map) =>
        from field in map.Fields
        let limit = TextLimit.Of(field)
        where limit is not null
        select $"{field.Target} is limited to {limit} characters";

    /// <inheritdoc/>
    protected override SavedVersion Earlier(string text) => MapVersions.Earlier(text);
}
