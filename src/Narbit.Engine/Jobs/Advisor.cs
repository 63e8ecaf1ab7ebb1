using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Core.Timetables;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Jobs;

/// <summary>
/// Says what a job's timetable would have oversold and missed on the mirror's own orders, or on those of a file, and what it takes from
/// the limits of its systems; beside other intervals, and beside beginning at once.
/// </summary>
/// <param name="database">Where orders and runs are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class Advisor(Database database, AdapterSource adapters, TimeProvider clock)
{
    private const int Days = 60;
    private const int AllDay = 24 * 60;
    private const int MostItems = 8;

    private static readonly int[] Intervals = [5, 15, 60];
    private static readonly ShownPart[] Parts = [new(1, 100), new(2, 100), new(5, 100), new(0, 80), new(0, 50)];

    // What is tried: the orders, which stores the job reads and tells, and how often the others are by their own jobs.
    private sealed record Trial(
        StockReplay Orders,
        IReadOnlySet<string> Read,
        IReadOnlySet<string> Told,
        IReadOnlyDictionary<string, int> Intake,
        IReadOnlyDictionary<string, int> Publish
    )
    {
        public StockReplay At(int minutes) =>
            Orders with
            {
                Intake = Intake.ToDictionary(s => s.Key, s => Read.Contains(s.Key) ? minutes : s.Value),
                Publish = Publish.ToDictionary(s => s.Key, s => Told.Contains(s.Key) ? minutes : s.Value),
            };
    }

    /// <summary>Advises on a job, before or after it is kept.</summary>
    /// <param name="id">The job that is changed; null: a new one.</param>
    /// <param name="document">What it is or would be.</param>
    /// <param name="file">Orders of a file; null: the mirror's own.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<Advice>> AdviseAsync(string? id, JobDocument document, ReplayedFile? file, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await JobCheck.FaultAsync(db, id, document, cancel) is { } fault)
            return fault;
        if (await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel) is not { } hub)
            return new Reason("job.noHub", "There is no hub yet whose stock could be told to the stores; choose one under Settings.");
        var now = clock.GetUtcNow();
        var orders = file is null ? await MirrorsAsync(db, hub, now.AddDays(-Days), cancel) : Of(file);
        var trial = await TrialAsync(db, id, document, orders, hub, cancel);
        var minutes = document is { AtOnce: true } ? 0 : MinutesOf(document.Timetable, await JobTimes.DaysOffAsync(db, cancel), now);
        return await AdviseAsync(db, new Tried(document, trial, minutes, file is null ? now.AddDays(-Days) : file.From), cancel);
    }

    private sealed record Tried(JobDocument Document, Trial Trial, int Minutes, DateTimeOffset From);

    private static async Task<Outcome<Advice>> AdviseAsync(NarbitContext db, Tried tried, CancellationToken cancel)
    {
        var trial = tried.Trial;
        var troubles = new List<ReplayTrouble>();
        var own = trial.At(tried.Minutes).Run(troubles.Add);
        if (own.Fault is { } unfit)
            return unfit;
        var costs = await RequestCosts.OfAsync(db, tried.Document, trial.Orders.Orders.Count / (double)Days, cancel);
        var options = new List<AdviceOption> { Option("this", tried.Minutes, own.Value, costs) };
        options.AddRange(Intervals.Select(m => Option("every", m, trial.At(m).Run().Value, costs)));
        options.Add(Option("atOnce", 0, trial.At(0).Run().Value, costs));
        var zone = await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel);
        return new Advice
        {
            Sentence = Sentence(options[0], options[^1]),
            Days = Days,
            Orders = trial.Orders.Orders.Count,
            Options = options,
            Items = await ItemsAsync(db, troubles, cancel),
            Hours = Hours(troubles, zone),
            Parts =
            [
                .. Parts.Select(part =>
                {
                    var shown = (trial.At(tried.Minutes) with { Shown = part }).Run().Value;
                    return new PartOption(part.HoldBack, part.Share, shown.Oversold, shown.Missed);
                }),
            ],
            Assumes = Assumed(tried, costs),
        };
    }

    private static AdviceOption Option(string way, int minutes, ReplayResult result, RequestCosts costs) =>
        new()
        {
            Way = way,
            Minutes = minutes,
            Accepted = result.Accepted,
            Oversold = result.Oversold,
            Short = result.Short,
            Missed = result.Missed,
            RequestsADay = costs.Known ? costs.Of(minutes).Sum(r => r.ADay) : null,
            Requests = costs.Of(minutes),
        };

    private static string Sentence(AdviceOption own, AdviceOption atOnce)
    {
        var cost = own.RequestsADay is { } requests ? $" and cost {Count(requests)} requests a day" : "";
        var other = atOnce.RequestsADay is { } less ? $"{Count(atOnce.Oversold)} and {Count(less)}" : Count(atOnce.Oversold);
        return own.Way == "this" && own.Minutes == 0
            ? $"In {Days} days this would have oversold {Times(own.Oversold)}{cost}."
            : $"In {Days} days this would have oversold {Times(own.Oversold)}{cost}; at once: {other}.";
    }

    private static string Times(int times) =>
        times switch
        {
            0 => "nothing",
            1 => "once",
            _ => $"{Count(times)} times",
        };

    private static string Count(double number) => number.ToString("N0", CultureInfo.InvariantCulture);

    private static List<string> Assumed(Tried tried, RequestCosts costs)
    {
        var said = new List<string>();
        if (tried.Document.Timetable is { At: not null } or { Every.From: not null } && !tried.Document.AtOnce)
            said.Add($"Its times are reckoned as every {tried.Minutes} minutes, which is their mean.");
        said.Add("Stock at the beginning is reckoned back from today's: what is there, and what the hub has booked since, less what came.");
        said.Add("Stores of other jobs keep those jobs' times; a store that nobody tells is told once a day.");
        if (!costs.Known)
            said.Add("No run of its lanes has said yet what it takes in requests.");
        else if (costs.Estimated)
            said.Add("No small turn has run yet, so what one takes at once is estimated at four requests a system and order.");
        return said;
    }

    // The mean of the times that a week has.
    private static int MinutesOf(Timetable? timetable, IReadOnlyList<string> daysOff, DateTimeOffset now)
    {
        if (timetable is null || JobTimes.Of(timetable, daysOff).ValueOrDefault is not { } times)
            return AllDay;
        var week = times.After(now).TakeWhile(t => t <= now.AddDays(7)).Count();
        return week == 0 ? AllDay : Math.Clamp(7 * AllDay / week, 1, AllDay);
    }

    private static StockReplay Of(ReplayedFile file) =>
        new()
        {
            From = file.From,
            Stock = file.Stock,
            Intake = new Dictionary<string, int>(),
            Publish = new Dictionary<string, int>(),
            Orders = file.Orders,
            Deliveries = file.Deliveries,
        };

    // Which stores the job reads and tells, and how often the others are by their own jobs.
    private async Task<Trial> TrialAsync(
        NarbitContext db,
        string? id,
        JobDocument document,
        StockReplay orders,
        string hub,
        CancellationToken cancel
    )
    {
        var lanes = await db.Lanes.AsNoTracking().Where(l => !l.Off).ToListAsync(cancel);
        var own = document.Lanes.Select(l => l.Lane).ToHashSet(StringComparer.Ordinal);
        HashSet<string> Stores(Func<Lane, bool> which, Func<Lane, string> store) => [.. lanes.Where(which).Select(store)];
        bool Reads(Lane l) => LaneWorks.Of(l.Kind).StockPart == StockPart.TakesSales && l.TargetId == hub;
        bool Tells(Lane l) => LaneWorks.Of(l.Kind).StockPart == StockPart.TellsStock && l.SourceId == hub;
        var others = await OthersAsync(db, id, lanes, cancel);
        var stores = orders.Orders.Select(o => o.Store).Concat(Stores(Reads, l => l.SourceId)).ToHashSet(StringComparer.Ordinal);
        int Of(string store, Func<Lane, bool> which, Func<Lane, string> side) =>
            lanes.Where(l => which(l) && side(l) == store).Select(l => others.GetValueOrDefault(l.Id, AllDay)).DefaultIfEmpty(AllDay).Min();
        return new Trial(
            orders,
            Stores(l => Reads(l) && own.Contains(l.Id), l => l.SourceId),
            Stores(l => Tells(l) && own.Contains(l.Id), l => l.TargetId),
            stores.ToDictionary(s => s, s => Of(s, Reads, l => l.SourceId)),
            stores.ToDictionary(s => s, s => Of(s, Tells, l => l.TargetId))
        );
    }

    // How often lanes run by other jobs, in minutes.
    private async Task<Dictionary<string, int>> OthersAsync(NarbitContext db, string? id, List<Lane> lanes, CancellationToken cancel)
    {
        var daysOff = await JobTimes.DaysOffAsync(db, cancel);
        var now = clock.GetUtcNow();
        var jobs = await db.Jobs.AsNoTracking().Include(j => j.Lanes).Where(j => j.Id != id && !j.Off).ToListAsync(cancel);
        var minutes = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var job in jobs)
        foreach (var entry in job.Lanes.Where(e => lanes.Exists(l => l.Id == e.LaneId && !l.Paused)))
            minutes[entry.LaneId] = job.AtOnce ? 0 : MinutesOf(JobJson.ReadTimetable(job.Timetable), daysOff, now);
        return minutes;
    }

    private async Task<StockReplay> MirrorsAsync(NarbitContext db, string hub, DateTimeOffset since, CancellationToken cancel)
    {
        var placed = await (
            from standing in db.OrderStandings.AsNoTracking()
            join lane in db.Lanes on standing.LaneId equals lane.Id
            join goods in db.OrderGoods on standing.Id equals goods.StandingId
            where lane.TargetId == hub && standing.PlacedAt >= since && standing.Stage != Data.Orders.OrderStage.Skipped && goods.Pieces > 0
            select new
            {
                standing.PlacedAt,
                lane.SourceId,
                goods.Item,
                goods.Pieces,
                Booked = standing.HubKey != null,
            }
        ).ToListAsync(cancel);
        var sold = placed
            .Select(p => (Order: new ReplayedOrder(p.PlacedAt, p.SourceId, p.Item, (int)Math.Min(p.Pieces, int.MaxValue)), p.Booked))
            .ToList();
        var items = sold.Select(s => s.Order.Sku).ToHashSet(StringComparer.Ordinal);
        var (available, deliveries) = await StockAsync(db, hub, items, since, cancel);
        var booked = sold.Where(s => s.Booked).GroupBy(s => s.Order.Sku).ToDictionary(g => g.Key, g => g.Sum(s => (long)s.Order.Quantity));
        var came = deliveries.GroupBy(d => d.Sku).ToDictionary(g => g.Key, g => g.Sum(d => (long)d.Quantity));
        return new StockReplay
        {
            From = since,
            Stock = items.ToDictionary(
                i => i,
                i => Math.Max(0, available.GetValueOrDefault(i) + booked.GetValueOrDefault(i) - came.GetValueOrDefault(i))
            ),
            Intake = new Dictionary<string, int>(),
            Publish = new Dictionary<string, int>(),
            Orders = [.. sold.Select(s => s.Order)],
            Deliveries = deliveries,
        };
    }

    // What is available of items at the hub now, and what came since.
    private async Task<(Dictionary<string, long> Available, IReadOnlyList<ReplayedDelivery> Deliveries)> StockAsync(
        NarbitContext db,
        string hub,
        IReadOnlyCollection<string> items,
        DateTimeOffset from,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(hub, cancel);
        if (connection.ValueOrDefault?.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.StockLevel)?.Fields is not { } fields)
            return ([], []);
        var rows = await new Data.Mirror.MirrorStore(database).SomeAsync(hub, RecordKind.StockLevel, [], items, cancel);
        var itemOf = rows.ToDictionary(r => r.Key, r => r.Parent ?? r.Group ?? "", StringComparer.Ordinal);
        var available = rows.GroupBy(r => itemOf[r.Key], StringComparer.Ordinal)
            .ToDictionary(
                g => g.Key,
                g => (long)g.Select(r => fields.StockLevel(Reading.StoredRecord.Values(r.Values))).Sum(l => l.OnHand - l.Allocated),
                StringComparer.Ordinal
            );
        if (fields.Find(FieldRole.OnHand)?.Name is not { } onHand)
            return (available, []);
        var changes = await db
            .ValueChanges.AsNoTracking()
            .Where(v => v.SystemId == hub && v.Kind == RecordKind.StockLevel && v.Field == onHand && v.At >= from)
            .ToListAsync(cancel);
        var deliveries = changes
            .Where(v => itemOf.ContainsKey(v.Key))
            .Select(v => new ReplayedDelivery(v.At, itemOf[v.Key], (int)((Amounts.Of(v.New) ?? 0) - (Amounts.Of(v.Old) ?? 0))))
            .Where(d => d.Quantity > 0);
        return (available, [.. deliveries]);
    }

    private static async Task<IReadOnlyList<WorstItem>> ItemsAsync(NarbitContext db, List<ReplayTrouble> troubles, CancellationToken cancel)
    {
        var worst = troubles
            .GroupBy(t => t.Order.Sku, StringComparer.Ordinal)
            .Select(g => new WorstItem(g.Key, null, null, g.Count(t => t.Short > 0), g.Sum(t => t.Short), g.Count(t => t.Short == 0)))
            .OrderByDescending(i => i.Short)
            .ThenByDescending(i => i.Missed)
            .ThenBy(i => i.Item, StringComparer.Ordinal)
            .Take(MostItems)
            .ToList();
        var keys = worst.Select(i => i.Item).ToList();
        var hub = await db.Workspaces.Select(w => w.HubId).FirstOrDefaultAsync(cancel);
        var named = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Item && keys.Contains(r.Key))
            .ToDictionaryAsync(r => r.Key, r => new { r.Reference, r.Caption }, cancel);
        return
        [
            .. worst.Select(i =>
                named.TryGetValue(i.Item, out var name) ? i with { Reference = name.Reference, Caption = name.Caption } : i
            ),
        ];
    }

    private static List<int> Hours(List<ReplayTrouble> troubles, string? zone)
    {
        var known = zone is not null && TimeZoneInfo.TryFindSystemTimeZoneById(zone, out var its) ? its : TimeZoneInfo.Utc;
        var hours = Enumerable.Repeat(0, 24).ToList();
        foreach (var trouble in troubles)
            hours[TimeZoneInfo.ConvertTime(trouble.Order.At, known).Hour]++;
        return hours;
    }
}
