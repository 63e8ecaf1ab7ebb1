using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters.Files;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Pairing;

/// <summary>
/// How many records stand where. The first four are open; what is decided but not committed counts as unpaired, not as open.
/// </summary>
internal sealed record CoupleCounts
{
    public required int Certain { get; init; }

    public required int Likely { get; init; }

    public required int Ambiguous { get; init; }

    public required int None { get; init; }

    public required int SetAside { get; init; }

    public required int ToCreate { get; init; }

    public required int Paired { get; init; }

    public required int Waiting { get; init; }

    public required int Unpaired { get; init; }
}

internal sealed record CoupleView
{
    public required long Id { get; init; }

    public required SystemTag Hub { get; init; }

    public required SystemTag Other { get; init; }

    public required RecordKind Kind { get; init; }

    public required string HubLabel { get; init; }

    public required string OtherLabel { get; init; }

    public required CoupleCounts Counts { get; init; }

    public required StockTakingWay? Way { get; init; }

    public required bool AcceptsCertain { get; init; }

    public required bool Taking { get; init; }

    public required DateTimeOffset? PairedAt { get; init; }

    public required bool Closed { get; init; }

    public required string? ClosedBy { get; init; }

    public required DateTimeOffset? ClosedAt { get; init; }

    public required int Lanes { get; init; }

    public required SkuHabit? Habit { get; init; }
}

internal sealed record LanesClosed(bool Closed);

internal sealed record StockTakingStart(StockTakingWay Way);

internal sealed record StockTaken(int Decisions);

internal sealed record PairAnew(bool Read);

internal sealed record Linked(int Listings);

internal sealed record HabitView(LearnedHabit? Offer, SkuHabit? InForce, string? Words);

internal sealed record HabitChange(string? Before, string? After);

internal sealed record PastedTable(string Text, bool WhatFits);

/// <summary>Couples of systems: where their pairing stands, closing their lanes, the first stock-taking, habits, pair tables.</summary>
internal static class CouplesApi
{
    private const long MostUpload = Uploads.Most;

    public static void Map(RouteGroupBuilder api)
    {
        var couples = api.MapGroup("/couples").WithTags("Pairing");
        couples.MapGet("/", ListAsync).WithName("listCouples");
        couples.MapGet("/{id:long}", GetAsync).WithName("getCouple");
        couples.MapPost("/{id:long}/pair", PairAsync).WithName("pairCouple");
        couples.MapPut("/{id:long}/closed", CloseAsync).WithName("closeLanes");
        couples.MapGet("/{id:long}/stock-taking", ForecastAsync).WithName("forecastStockTaking");
        couples.MapPost("/{id:long}/stock-taking", TakeAsync).WithName("takeStock");
        couples.MapGet("/{id:long}/habit", HabitAsync).WithName("getHabit");
        couples.MapPut("/{id:long}/habit", SetHabitAsync).WithName("setHabit");
        couples.MapGet("/{id:long}/table", ExportAsync).WithName("exportPairs");
        couples.MapPost("/{id:long}/table", ImportAsync).WithName("importPairs").TakesFiles();
        couples.MapPost("/{id:long}/table/text", PasteAsync).WithName("pastePairs");
    }

    private static async Task<Ok<IReadOnlyList<CoupleView>>> ListAsync(
        PairDesk desk,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        await desk.EnsureAllAsync(cancel);
        return TypedResults.Ok(await ViewsAsync(database, adapters, null, cancel));
    }

    private static async Task<Results<Ok<CoupleView>, ProblemHttpResult>> GetAsync(
        long id,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    ) =>
        await ViewsAsync(database, adapters, id, cancel) is [var view]
            ? TypedResults.Ok(view)
            : Problems.NotFound($"There is no pairing {id}.");

    public static async Task<IReadOnlyList<CoupleView>> ViewsAsync(
        Database database,
        AdapterSource adapters,
        long? only,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, cancel);
        var views = new List<CoupleView>();
        foreach (
            var couple in await db.Couples.AsNoTracking().Where(c => only == null || c.Id == only).OrderBy(c => c.Id).ToListAsync(cancel)
        )
        {
            if (!systems.TryGetValue(couple.HubId, out var hub) || !systems.TryGetValue(couple.OtherId, out var other))
                continue;
            var lanes = await db
                .Lanes.AsNoTracking()
                .Where(l =>
                    (l.SourceId == couple.HubId && l.TargetId == couple.OtherId)
                    || (l.SourceId == couple.OtherId && l.TargetId == couple.HubId)
                )
                .ToListAsync(cancel);
            var closed = lanes.Find(l => l.ClosedAt is not null);
            async Task<string> LabelAsync(string systemId) =>
                (await adapters.ForAsync(systemId, cancel)).ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == couple.Kind)?.Label
                ?? couple.Kind.ToString().ToLowerInvariant();
            views.Add(
                new CoupleView
                {
                    Id = couple.Id,
                    Hub = SystemTag.Of(hub),
                    Other = SystemTag.Of(other),
                    Kind = couple.Kind,
                    HubLabel = await LabelAsync(hub.Id),
                    OtherLabel = await LabelAsync(other.Id),
                    Counts = await CountAsync(db, couple.Id, cancel),
                    Way = couple.Way,
                    AcceptsCertain = couple.AcceptsCertain,
                    Taking = couple.TakingSince is not null,
                    PairedAt = couple.PairedAt,
                    Closed = closed is not null,
                    ClosedBy = closed?.ClosedBy,
                    ClosedAt = closed?.ClosedAt,
                    Lanes = lanes.Count,
                    Habit = CoupleOf.Habit(couple),
                }
            );
        }

        return views;
    }

    private static async Task<CoupleCounts> CountAsync(NarbitContext db, long id, CancellationToken cancel)
    {
        var open = await DecisionDesk.OpenAsync(db, id, cancel);
        var counts = await open.GroupBy(p => p.Verdict)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancel);
        return new CoupleCounts
        {
            Certain = counts.GetValueOrDefault(Verdict.Certain),
            Likely = counts.GetValueOrDefault(Verdict.Likely),
            Ambiguous = counts.GetValueOrDefault(Verdict.Ambiguous),
            None = counts.GetValueOrDefault(Verdict.None),
            SetAside = await db.SetAsides.CountAsync(a => a.CoupleId == id && !a.ToCreate, cancel),
            ToCreate = await db.SetAsides.CountAsync(a => a.CoupleId == id && a.ToCreate, cancel),
            Paired = await db.Links.Where(l => l.CoupleId == id).Select(l => l.OtherKey).Distinct().CountAsync(cancel),
            Waiting = await db.Decisions.CountAsync(d => d.CoupleId == id && d.State == DecisionState.Waiting, cancel),
            Unpaired = await db.Proposals.CountAsync(p => p.CoupleId == id, cancel),
        };
    }

    private static async Task<Results<Ok<Linked>, ProblemHttpResult>> PairAsync(
        long id,
        PairAnew request,
        PairDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var linked = await desk.PairAsync(id, request.Read, cancel);
        if (linked.Fault is { } fault)
            return Problems.Of(fault);
        Tell(live, id);
        return TypedResults.Ok(new Linked(linked.Value));
    }

    public static void Tell(LiveFeed live, long coupleId) =>
        live.Tell(new LiveEvent("pairs", coupleId.ToString(System.Globalization.CultureInfo.InvariantCulture)));

    private static async Task<Results<NoContent, ProblemHttpResult>> CloseAsync(
        long id,
        LanesClosed change,
        PairDesk desk,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        foreach (var lane in await desk.CloseAsync(opened.Value.Couple, change.Closed, await People.AtWorkAsync(database, cancel), cancel))
            live.Tell(new LiveEvent("lane", lane));
        Tell(live, id);
        return TypedResults.NoContent();
    }

    private static async Task<Ok<StockTakingForecast>> ForecastAsync(long id, StockTaking taking, CancellationToken cancel) =>
        TypedResults.Ok(await taking.ForecastAsync(id, cancel));

    private static async Task<Results<Ok<StockTaken>, ProblemHttpResult>> TakeAsync(
        long id,
        StockTakingStart start,
        PairDesk desk,
        StockTaking taking,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        // It goes on when the page is left.
        var taken = await taking.TakeAsync(
            opened.Value.Hub,
            opened.Value.Other,
            opened.Value.Couple,
            start.Way,
            await People.AtWorkAsync(database, cancel),
            CancellationToken.None
        );
        if (taken.Fault is { } busy)
            return Problems.Of(busy);
        Tell(live, id);
        return TypedResults.Ok(new StockTaken(taken.Value));
    }

    private static async Task<Results<Ok<HabitView>, ProblemHttpResult>> HabitAsync(long id, PairDesk desk, CancellationToken cancel)
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var (offer, inForce) = (await desk.LearnAsync(opened.Value.Couple, cancel), CoupleOf.Habit(opened.Value.Couple));
        return TypedResults.Ok(new HabitView(offer, inForce, (offer?.Habit ?? inForce)?.Words(opened.Value.Other.System.Name)));
    }

    private static async Task<Results<Ok<Linked>, ProblemHttpResult>> SetHabitAsync(
        long id,
        HabitChange change,
        PairDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var habit =
            string.IsNullOrEmpty(change.Before) && string.IsNullOrEmpty(change.After)
                ? null
                : new SkuHabit(change.Before ?? "", change.After ?? "");
        var linked = await desk.SetHabitAsync(id, habit, cancel);
        if (linked.Fault is { } fault)
            return Problems.Of(fault);
        Tell(live, id);
        return TypedResults.Ok(new Linked(linked.Value));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ExportAsync(
        long id,
        string? form,
        PairDesk desk,
        PairTableImport tables,
        Database database,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var other = await PairSide.LoadAsync(database, opened.Value.Other, opened.Value.Couple.Kind, cancel);
        return Sheets.File(
            form,
            $"pairs-{opened.Value.Other.System.Id}",
            PairTableImport.Columns,
            await tables.ExportAsync(opened.Value.Couple, other, cancel)
        );
    }

    private static async Task<Results<Ok<PairTableReport>, ProblemHttpResult>> ImportAsync(
        long id,
        IFormFile file,
        bool? whatFits,
        PairDesk desk,
        PairTableImport tables,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (file.Length > MostUpload)
            return Problems.Of(new Core.Reason("table.tooLarge", $"{file.FileName} has more than {MostUpload >> 20} MiB. Split it."));
        using var content = new MemoryStream();
        await file.CopyToAsync(content, cancel);
        content.Position = 0;
        return await TakeInAsync(
            id,
            Table.Read(content, file.FileName, PairTableImport.Shape),
            whatFits ?? false,
            desk,
            tables,
            database,
            live,
            cancel
        );
    }

    private static Task<Results<Ok<PairTableReport>, ProblemHttpResult>> PasteAsync(
        long id,
        PastedTable pasted,
        PairDesk desk,
        PairTableImport tables,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    ) => TakeInAsync(id, Table.ReadText(pasted.Text, PairTableImport.Shape), pasted.WhatFits, desk, tables, database, live, cancel);

    private static async Task<Results<Ok<PairTableReport>, ProblemHttpResult>> TakeInAsync(
        long id,
        IEnumerable<Core.Outcome<TableRow>> rows,
        bool whatFits,
        PairDesk desk,
        PairTableImport tables,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var opened = await desk.OpenAsync(id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var (couple, hub, other) = opened.Value;
        var report = await tables.ImportAsync(
            couple,
            await PairSide.LoadAsync(database, hub, couple.Kind, cancel),
            await PairSide.LoadAsync(database, other, couple.Kind, cancel),
            rows,
            whatFits,
            await People.AtWorkAsync(database, cancel),
            cancel
        );
        if (report.Fault is { } unread)
            return Problems.Of(unread);
        Tell(live, id);
        return TypedResults.Ok(report.Value);
    }
}
