using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>
/// Changes a lane's map from the desk: as a version with a note, which is taken back as one.
/// </summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
internal sealed class MapVersions(Database database, AdapterSource adapters, LiveFeed live, TimeProvider clock)
{
    /// <summary>Saves a changed map.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="change">What becomes of its map, or why it cannot be changed so.</param>
    /// <param name="note">What the version says of itself.</param>
    /// <param name="by">Who changes it.</param>
    /// <param name="act">The act that it is a part of.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>The version.</returns>
    public async Task<Outcome<SavedVersion>> SaveAsync(
        string laneId,
        Func<OpenLane, FieldMap, Outcome<FieldMap>> change,
        string note,
        string by,
        long act,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        await using (var db = database.CreateDbContext())
            if (await db.Drafts.AnyAsync(d => d.LaneId == laneId && d.Person == by, cancel))
                return new Reason("lane.draft", "You have changed this lane's map and not saved it; save it or throw it away first.");
        if (lane.Document.Mapped is not { } mapped)
            return new Reason("lane.noMap", "This lane has no map.");
        var map = change(lane, mapped);
        if (map.Fault is { } impossible)
            return impossible;
        var saved = await SaveAsync(lane, lane.Document.WithMap(map.Value), note, by, act, cancel);
        return saved.Fault is { } refused ? refused : new SavedVersion(laneId, saved.Value);
    }

    /// <summary>The versions that an act has saved.</summary>
    public static async Task<IReadOnlyList<SavedVersion>> OfActAsync(NarbitContext db, long act, CancellationToken cancel) =>
        [
            .. (await db.RuleVersions.AsNoTracking().Where(v => v.DeskActId == act).ToListAsync(cancel)).Select(v => new SavedVersion(
                v.LaneId,
                v.Number
            )),
        ];

    /// <summary>Takes a version back where nothing was changed since; what was taken back already is passed over.</summary>
    /// <returns>Why it cannot be; null: it is.</returns>
    public async Task<Reason?> TakeBackAsync(SavedVersion version, string by, CancellationToken cancel)
    {
        var (laneId, number) = version;
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        await using var db = database.CreateDbContext();
        var before = await db.RuleVersions.AsNoTracking().FirstOrDefaultAsync(v => v.LaneId == laneId && v.Number == number - 1, cancel);
        if (before is not null && await TakenBackAsync(db, before, number, cancel))
            return null;
        if (before is null || opened.Value.Rule.Number != number)
            return new Reason("lane.changed", "The map was changed since; take this out in the map itself.");
        var document = LaneJson.Read(before.Document).Value;
        return (await SaveAsync(opened.Value, document, "taken back from the mismatch desk", by, null, cancel)).Fault;
    }

    // Whoever did it: a later version is as the one before was.
    private static Task<bool> TakenBackAsync(NarbitContext db, RuleVersion before, int number, CancellationToken cancel)
    {
        var was = LaneJson.Write(LaneJson.Read(before.Document).Value);
        return db.RuleVersions.AnyAsync(v => v.LaneId == before.LaneId && v.Number > number && v.Document == was, cancel);
    }

    /// <summary>What each version changed, by both maps, and how many records it has acted on since.</summary>
    /// <param name="db">Where versions are.</param>
    /// <param name="versions">The versions.</param>
    /// <param name="told">What one changed, for people.</param>
    /// <param name="page">On which page of the lane it stands.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<SavedVersion> versions,
        Func<FieldMap, FieldMap, IEnumerable<string>> told,
        string page,
        CancellationToken cancel
    )
    {
        var lessons = new List<Lesson>();
        foreach (var (lane, number) in versions)
        {
            var both = await db
                .RuleVersions.AsNoTracking()
                .Where(v => v.LaneId == lane && (v.Number == number || v.Number == number - 1))
                .OrderBy(v => v.Number)
                .ToListAsync(cancel);
            if (both.Select(v => LaneJson.Read(v.Document).ValueOrDefault?.Mapped).ToList() is not [{ } before, { } after])
                continue;
            var runs = db.Runs.Where(r => r.LaneId == lane && r.RuleNumber >= number).Select(r => r.Id);
            var acted = await db.Writes.CountAsync(w => runs.Contains(w.RunId) && w.State == WriteState.Confirmed, cancel);
            lessons.AddRange(told(before, after).Select(t => new Lesson(t, acted, $"/lanes/{lane}/{page}")));
        }

        return lessons;
    }

    private async Task<Outcome<int>> SaveAsync(
        OpenLane lane,
        LaneDocument document,
        string note,
        string by,
        long? act,
        CancellationToken cancel
    )
    {
        var save = new VersionToSave(lane.Rule.Number, document, null, note, act);
        var saved = await new LaneMaker(database, adapters, clock).SaveAsync(lane, save, by, cancel);
        if (saved.Fault is { } refused)
            return refused;
        live.Tell(new LiveEvent("lane", lane.Lane.Id));
        return saved.Value.Number;
    }

    /// <summary>A version as it was kept before parts were JSON: <c>lane/7</c>.</summary>
    public static SavedVersion Earlier(string text)
    {
        var slash = text.LastIndexOf('/');
        return new SavedVersion(text[..slash], int.Parse(text[(slash + 1)..], CultureInfo.InvariantCulture));
    }
}
