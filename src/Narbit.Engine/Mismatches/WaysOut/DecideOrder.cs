using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>
/// Decides what an order is held for: which item a SKU is, that a small difference is made up for, that it is sent where it says. What a
/// SKU is holds for every order of the lane, so that nobody is asked again.
/// </summary>
/// <param name="database">Where decisions are.</param>
/// <param name="desk">What keeps decisions on orders.</param>
public sealed class DecideOrder(Database database, OrderDesk desk) : IWayOut
{
    private const double OfDifference = 0.8;
    private const double OfAddress = 0.4;

    private static readonly HashSet<string> Causes = new(StringComparer.Ordinal)
    {
        "order.unknownItem",
        "order.totals",
        "order.outsideZone",
        "order.noAddress",
    };

    /// <inheritdoc/>
    public string Act => "order";

    /// <inheritdoc/>
    public bool Knows(string cause) => Causes.Contains(cause);

    /// <inheritdoc/>
    public async Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var found = new List<Suggested>();
        foreach (var hub in some.Where(m => m.Cause == "order.unknownItem").GroupBy(m => m.OtherSystemId))
            found.AddRange(await ItemsAsync(db, hub.Key, [.. hub], cancel));
        found.AddRange(some.Where(m => m.Cause != "order.unknownItem").Select(m => new Suggested(m, OfCause(m.Cause))));
        return found;
    }

    private static Suggestion OfCause(string cause) =>
        cause == "order.totals"
            ? new Suggestion(
                "difference",
                "Make up for the difference by a line of its own",
                "lines and total are the store's own",
                OfDifference
            )
            : new Suggestion("address", "Send it where it says", null, OfAddress);

    private static async Task<IEnumerable<Suggested>> ItemsAsync(
        NarbitContext db,
        string? hub,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        if (hub is null)
            return [];
        var items = await db
            .Records.Where(r => r.SystemId == hub && r.Kind == RecordKind.Item && r.GoneAt == null)
            .Select(r => new KnownItem(r.Key, r.Reference, r.Caption))
            .ToListAsync(cancel);
        var likely = new LikelyItems(items);
        var known = new Dictionary<(string?, string?), LikelyItem?>();
        return some.Select(m =>
            {
                if (!known.TryGetValue((m.Subject, m.Hint), out var item))
                    known[(m.Subject, m.Hint)] = item = likely.Of(m.Subject, m.Hint);
                return (Mismatch: m, Item: item);
            })
            .Where(f => f.Item is not null && f.Mismatch.Subject is not null)
            .Select(f => new Suggested(f.Mismatch, Of(f.Mismatch, f.Item!)));
    }

    private static Suggestion Of(Mismatch mismatch, LikelyItem item) =>
        new(
            "item",
            $"{mismatch.Subject} is {item.Item.Sku ?? item.Item.Key}, {item.Item.Title}",
            item.Why,
            item.Confidence,
            item.Item.Key,
            Learns: true
        );

    /// <inheritdoc/>
    public async Task<Outcome<Taken>> TakeAsync(IReadOnlyList<Suggested> some, string by, CancellationToken cancel)
    {
        var (decisions, settled, not) = (new List<string>(), new List<long>(), new List<NotTaken>());
        foreach (var alike in some.GroupBy(s => (s.Mismatch.LaneId, Order: OrderOf(s), s.Mismatch.Subject, s.Suggestion.Value)))
        {
            var choice = Choice(alike.First());
            var decided = await desk.DecideAsync(alike.Key.LaneId!, alike.Key.Order, choice, by, cancel);
            if (decided.Fault is { } fault)
            {
                not.AddRange(alike.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
                continue;
            }

            settled.AddRange(alike.Select(s => s.Mismatch.Id));
            if (await NewestAsync(alike.Key.LaneId!, alike.Key.Order, choice, cancel) is { } id)
                decisions.Add($"{alike.Key.LaneId}/{id.ToString(CultureInfo.InvariantCulture)}");
        }

        return new Taken($"{decisions.Count:N0} decided; the next run takes the orders", settled, not, string.Join(' ', decisions));
    }

    // What a SKU is holds for every order; all else for this one.
    private static string? OrderOf(Suggested one) => one.Suggestion.Act == "item" ? null : one.Mismatch.Key;

    private static OrderChoice Choice(Suggested one) =>
        one.Suggestion.Act switch
        {
            "item" => new OrderChoice(OrderChoiceKind.Item, one.Mismatch.Subject, one.Suggestion.Value),
            "difference" => new OrderChoice(OrderChoiceKind.Difference, null, null),
            _ => new OrderChoice(OrderChoiceKind.Address, null, null),
        };

    private async Task<long?> NewestAsync(string lane, string? order, OrderChoice choice, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db
            .OrderDecisions.Where(d =>
                d.LaneId == lane && d.OrderKey == order && d.Kind == choice.Kind && d.Subject == choice.Subject && d.UndoneAt == null
            )
            .MaxAsync(d => (long?)d.Id, cancel);
    }

    /// <inheritdoc/>
    public async Task<Reason?> UndoAsync(string undo, string by, CancellationToken cancel)
    {
        foreach (var decision in undo.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var slash = decision.LastIndexOf('/');
            var id = long.Parse(decision[(slash + 1)..], CultureInfo.InvariantCulture);
            if ((await desk.UndoAsync(decision[..slash], id, cancel)).Fault is { } fault)
                return fault;
        }

        return null;
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<Lesson>> LessonsAsync(NarbitContext db, string undo, DateTimeOffset at, CancellationToken cancel)
    {
        long[] ids = [.. undo.Split(' ').Select(d => long.Parse(d[(d.LastIndexOf('/') + 1)..], CultureInfo.InvariantCulture))];
        var decisions = await db.OrderDecisions.AsNoTracking().Where(d => ids.Contains(d.Id) && d.Subject != null).ToListAsync(cancel);
        var lessons = new List<Lesson>();
        foreach (var decision in decisions)
        {
            var sold = $" {decision.Subject} ";
            var acted = await db.OrderStandings.CountAsync(
                o => o.LaneId == decision.LaneId && o.PlacedAt > at && o.Skus.Contains(sold),
                cancel
            );
            lessons.Add(new Lesson($"{decision.Subject} is the hub's item {decision.Value}", acted, $"/lanes/{decision.LaneId}/rule"));
        }

        return lessons;
    }
}
