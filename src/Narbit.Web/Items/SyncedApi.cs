using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Items;

/// <summary>Which items are looked for: all of these must hold.</summary>
/// <param name="Search">In the SKU or the title.</param>
/// <param name="Category">The category or anything under it.</param>
/// <param name="Location">Something is on hand there.</param>
/// <param name="Store">Paired with a listing of this system.</param>
/// <param name="KeptOff">Kept off this lane.</param>
internal sealed record SyncedFilter(string? Search, string? Category, string? Location, string? Store, string? KeptOff);

/// <summary>A lane as a column.</summary>
internal sealed record SyncedLane(string Id, string Label, string Name, SystemTag Target, bool Off, int KeptOff);

/// <summary>An item, and the lanes that leave it alone.</summary>
internal sealed record SyncedRow(string SourceKey, string? Reference, string? Caption, string? Category, IReadOnlyList<string> KeptOff);

/// <summary>The columns and the values to choose from.</summary>
internal sealed record SyncedChoices(
    IReadOnlyList<SyncedLane> Lanes,
    IReadOnlyList<string> Categories,
    IReadOnlyList<string> Locations,
    IReadOnlyList<SyncedStore> Stores
);

/// <summary>A store, and which of the usual choices its lanes stand at; null: at none of them.</summary>
internal sealed record SyncedStore(SystemTag System, string? Preset);

/// <summary>A decision about many items at once: the named ones, or all that a filter finds.</summary>
internal sealed record SyncedChange(
    SyncedFilter Filter,
    IReadOnlyList<string>? SourceKeys,
    IReadOnlyList<string> Lanes,
    bool KeepOff,
    bool CountOnly
);

/// <summary>How many items were found and how many decisions change.</summary>
internal sealed record SyncedOutcome(int Items, int Changes);

/// <summary>What becomes of the lanes to a store at once.</summary>
internal sealed record StorePreset(string Store, string Preset);

/// <summary>What is synced for each item: found, chosen and set in one act.</summary>
internal static class SyncedApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var synced = api.MapGroup("/synced").WithTags("Synced");
        synced.MapGet("/choices", ChoicesAsync).WithName("syncedChoices");
        synced.MapGet("/", ListAsync).WithName("listSynced");
        synced.MapPost("/", ChangeAsync).WithName("changeSynced");
        synced.MapPut("/preset", PresetAsync).WithName("setPreset");
    }

    private static async Task<Ok<SyncedChoices>> ChoicesAsync(
        Database database,
        AdapterFields fields,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) is not { } hub)
            return TypedResults.Ok(new SyncedChoices([], [], [], []));
        var kept = await db
            .KeptOff.GroupBy(k => k.LaneId)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        var lanes = (await LaneViews.AllAsync(db, null, clock.GetUtcNow(), cancel))
            .Where(l => l.Work.Pairs && l.Source.Id == hub)
            .OrderBy(l => l.Target.Name, StringComparer.Ordinal)
            .ThenBy(l => LaneWorks.Place(l.Kind))
            .ToList();
        var categories = (await fields.OfAsync(hub, cancel))?.Find(FieldRole.Category) is { } category
            ? await ValueCounts.OfAsync(db, hub, RecordKind.Item, category.Name, cancel)
            : [];
        var levels = await fields.OfAsync(hub, cancel, RecordKind.StockLevel);
        var locations = levels?.Find(FieldRole.Location) is { } location
            ? await ValueCounts.DistinctAsync(db, hub, RecordKind.StockLevel, location.Name, cancel)
            : [];
        return TypedResults.Ok(
            new SyncedChoices(
                [.. lanes.Select(l => new SyncedLane(l.Id, l.Work.Label, l.Name, l.Target, l.Off, kept.GetValueOrDefault(l.Id)))],
                [.. categories.Select(c => c.Value).Order(StringComparer.Ordinal)],
                locations,
                [.. lanes.GroupBy(l => l.Target.Id).Select(g => new SyncedStore(g.First().Target, PresetOf(g)))]
            )
        );
    }

    private static async Task<Ok<Slice<SyncedRow>>> ListAsync(
        string? search,
        string? category,
        string? location,
        string? store,
        string? keptOff,
        int? offset,
        int? limit,
        Database database,
        AdapterFields fields,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) ?? "";
        var sides = await SidesAsync(fields, hub, cancel);
        var role = sides.Category;
        var found = Found(db, hub, sides, new SyncedFilter(search, category, location, store, keptOff));
        var total = await found.CountAsync(cancel);
        var rows = await found.OrderBy(r => r.Reference).ThenBy(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        var keys = rows.Select(r => r.Key).ToList();
        var kept = (await db.KeptOff.Where(k => keys.Contains(k.SourceKey)).ToListAsync(cancel)).ToLookup(
            k => k.SourceKey,
            k => k.LaneId,
            StringComparer.Ordinal
        );
        return TypedResults.Ok(
            new Slice<SyncedRow>(
                total,
                window.From,
                [
                    .. rows.Select(r => new SyncedRow(
                        r.Key,
                        r.Reference,
                        r.Caption,
                        role is null ? null : StoredRecord.Values(r.Values).GetValueOrDefault(role),
                        [.. kept[r.Key]]
                    )),
                ]
            )
        );
    }

    private static async Task<Results<Ok<SyncedOutcome>, ProblemHttpResult>> ChangeAsync(
        SyncedChange change,
        Database database,
        AdapterFields fields,
        ItemExceptions exceptions,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) ?? "";
        if (change.Lanes.Count == 0)
            return Problems.Of(new Reason("synced.nothing", "Choose at least one lane to change."));
        if (await db.Lanes.CountAsync(l => change.Lanes.Contains(l.Id), cancel) != change.Lanes.Distinct().Count())
            return Problems.NotFound("One of these lanes does not exist.");
        var sides = await SidesAsync(fields, hub, cancel);
        var keys = change.SourceKeys is { } named
            ? named.ToHashSet(StringComparer.Ordinal)
            : (await Found(db, hub, sides, change.Filter).Select(r => r.Key).ToListAsync(cancel)).ToHashSet(StringComparer.Ordinal);
        var lanes = change.Lanes.Distinct().ToList();
        var changes = await exceptions.CountAsync(lanes, keys, change.KeepOff, cancel);
        if (!change.CountOnly && changes > 0)
            await exceptions.KeepOffAsync(lanes, keys, change.KeepOff, cancel);
        return TypedResults.Ok(new SyncedOutcome(keys.Count, changes));
    }

    // What is on, by the usual choices for a store.
    private static readonly Dictionary<string, Func<LaneWork, bool>> Presets = new(StringComparer.Ordinal)
    {
        ["everything"] = _ => true,
        ["priceAndStock"] = work => work.Writing.GivesFirstValues,
        ["ordersOnly"] = _ => false,
    };

    private static string? PresetOf(IEnumerable<LaneSummary> lanes) =>
        Presets.FirstOrDefault(p => lanes.All(l => l.Off != p.Value(LaneWorks.Of(l.Kind)))).Key;

    private static async Task<Results<NoContent, ProblemHttpResult>> PresetAsync(
        StorePreset request,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (!Presets.TryGetValue(request.Preset, out var on))
            return Problems.Of(new Reason("request.invalid", $"“{request.Preset}” is none of {string.Join(", ", Presets.Keys)}."));
        await using var db = database.CreateDbContext();
        var lanes = (await db.Lanes.Where(l => l.TargetId == request.Store).ToListAsync(cancel))
            .Where(l => LaneWorks.Of(l.Kind).Pairs)
            .ToList();
        if (lanes.Count == 0)
            return Problems.NotFound($"No lane leads to “{request.Store}”.");
        foreach (var lane in lanes)
            lane.Off = !on(LaneWorks.Of(lane.Kind));
        await db.SaveChangesAsync(cancel);
        foreach (var lane in lanes)
            live.Tell(new LiveEvent("lane", lane.Id));
        return TypedResults.NoContent();
    }

    // Where the hub keeps what is looked for; "" is a field that no record has.
    private static async Task<(string? Category, string Location, string OnHand)> SidesAsync(
        AdapterFields fields,
        string hub,
        CancellationToken cancel
    )
    {
        var levels = await fields.OfAsync(hub, cancel, RecordKind.StockLevel);
        string Path(FieldRole role) => ValueCounts.PathOf(levels?.Find(role)?.Name ?? "");
        return ((await fields.OfAsync(hub, cancel))?.Find(FieldRole.Category)?.Name, Path(FieldRole.Location), Path(FieldRole.OnHand));
    }

    private static IQueryable<MirrorRecord> Found(
        NarbitContext db,
        string hub,
        (string? Category, string Location, string OnHand) sides,
        SyncedFilter filter
    )
    {
        var (category, location, onHand) = sides;
        var items = db.Records.AsNoTracking().Where(r => r.SystemId == hub && r.Kind == RecordKind.Item && r.GoneAt == null);
        if (category is not null && !string.IsNullOrWhiteSpace(filter.Category))
        {
            // The category is a value like any other, so that it is looked for in the values; what is under it begins with it.
            var (path, under) = (ValueCounts.PathOf(category), $"{Window.Escaped(filter.Category)} %");
            items = items.Where(r =>
                NarbitContext.Json(r.Values, path) == filter.Category || EF.Functions.Like(NarbitContext.Json(r.Values, path)!, under, "\\")
            );
        }

        if (!string.IsNullOrWhiteSpace(filter.Search))
        {
            var like = Window.Like(filter.Search);
            items = items.Where(r => EF.Functions.Like(r.Reference!, like, "\\") || EF.Functions.Like(r.Caption!, like, "\\"));
        }

        if (!string.IsNullOrWhiteSpace(filter.Location))
            items = items.Where(r =>
                db.Records.Any(s =>
                    s.SystemId == hub
                    && s.Kind == RecordKind.StockLevel
                    && s.Parent == r.Key
                    && s.GoneAt == null
                    && NarbitContext.Json(s.Values, location) == filter.Location
                    && NarbitContext.Number(s.Values, onHand) > 0
                )
            );
        if (!string.IsNullOrWhiteSpace(filter.Store))
            items = items.Where(r =>
                db.Links.Any(l =>
                    l.HubKey == r.Key
                    && db.Couples.Any(c => c.Id == l.CoupleId && c.HubId == hub && c.OtherId == filter.Store && c.Kind == RecordKind.Item)
                )
            );
        if (!string.IsNullOrWhiteSpace(filter.KeptOff))
            items = items.Where(r => db.KeptOff.Any(k => k.LaneId == filter.KeptOff && k.SourceKey == r.Key));
        return items;
    }
}
