using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Reads the orders of a lane with what the hub knows of each.</summary>
internal static class OrderPairs
{
    /// <summary>Every order that the store has, in the order in which they were first read.</summary>
    public static async IAsyncEnumerable<LanePair> ReadAsync(
        OpenLane lane,
        Database database,
        IReadOnlySet<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var hub = await HubKnowledge.ReadAsync(lane, database, only, cancel);
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Source.System.Id, RecordKind.Order, only, cancel))
        {
            var store = OrderRecord.Of(row);
            yield return new OrderPair(
                new SideRecord(row.Key, store.Values, store.Problems),
                hub.DocumentOf(row.Key) is { } document
                    ? new SideRecord(document.Key, document.Values, document.Problems)
                    : SideRecord.None with
                    {
                        Key = hub.KeyOf(row.Key) ?? "",
                    },
                row.Reference,
                hub.BuyerOf(store)
            )
            {
                Place = hub.Place(store),
            };
        }
    }
}

/// <summary>What the hub knows that orders of one store are about.</summary>
internal sealed class HubKnowledge
{
    private readonly Dictionary<string, string> _taken;
    private readonly ILookup<string, string> _credited;
    private readonly HashSet<string> _paidApart;
    private readonly Dictionary<string, OrderRecord> _documents;
    private readonly Dictionary<string, string> _numbers;
    private readonly ILookup<string, OrderChoice> _choices;
    private readonly AgreedValues _agreed;
    private readonly HubItems _items;
    private readonly HubCustomers _customers;
    private readonly FieldSet _store;
    private readonly KnownToHub _shared;

    private HubKnowledge(OpenLane lane, IReadOnlyList<Counterpart> made, HubItems items, HubCustomers customers, OrderFacts facts)
    {
        _taken = made.Where(c => c.Kind == RecordKind.Order).ToDictionary(c => c.SourceKey, c => c.TargetKey, StringComparer.Ordinal);
        _credited = made.Where(c => c.Kind == RecordKind.CreditNote)
            .Select(c => c.SourceKey.Split('/', 2))
            .Where(parts => parts.Length == 2)
            .ToLookup(parts => parts[0], parts => parts[1], StringComparer.Ordinal);
        _paidApart = made.Where(c => c.Kind == RecordKind.Payment).Select(c => c.SourceKey).ToHashSet(StringComparer.Ordinal);
        (_documents, _numbers, _choices, _agreed) = (facts.Documents, facts.Numbers, facts.Choices, facts.Agreed);
        (_items, _customers) = (items, customers);
        _store = lane.Sides.Source;
        _shared = new KnownToHub
        {
            Items = items.Items,
            Kits = items.Kits,
            Customers = Known(customers.All, facts.Choices[""]),
        };
    }

    // Customers that somebody said are another one are not met any more.
    private static IReadOnlyList<KnownCustomer> Known(IReadOnlyList<KnownCustomer> all, IEnumerable<OrderChoice> choices)
    {
        var merged = choices.Where(c => c.Kind == OrderChoiceKind.SameCustomer).Select(c => c.Subject).ToHashSet(StringComparer.Ordinal);
        return merged.Count == 0 ? all : [.. all.Where(c => !merged.Contains(c.Key))];
    }

    // What is known of the orders themselves.
    private sealed record OrderFacts(
        Dictionary<string, OrderRecord> Documents,
        Dictionary<string, string> Numbers,
        ILookup<string, OrderChoice> Choices,
        AgreedValues Agreed
    );

    /// <summary>Reads it from the mirror, the pairs and what was made before.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where all of it is.</param>
    /// <param name="only">The orders that are wanted; null: all.</param>
    /// <param name="cancel">Gives up.</param>
    public static async Task<HubKnowledge> ReadAsync(OpenLane lane, Database database, IReadOnlySet<string>? only, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var made = await db
            .Counterparts.AsNoTracking()
            .Where(c => c.SourceId == lane.Source.System.Id && c.TargetId == lane.Target.System.Id)
            .ToListAsync(cancel);
        var choices = await ChoicesAsync(lane, db, cancel);
        HashSet<string> taken =
        [
            .. made.Where(c => c.Kind == RecordKind.Order && only?.Contains(c.SourceKey) != false).Select(c => c.TargetKey),
        ];
        return new HubKnowledge(
            lane,
            made,
            await HubItems.ReadAsync(lane, database, only, choices.SelectMany(c => c).Select(c => c.Value).OfType<string>(), cancel),
            await HubCustomers.ReadAsync(lane, database, cancel),
            new OrderFacts(
                await DocumentsAsync(lane, database, taken, isSmall: only is not null, cancel),
                await NumbersAsync(lane, db, cancel),
                choices,
                await AgreedValues.ReadAsync(db, lane, only is null ? null : taken, cancel)
            )
        );
    }

    public string? KeyOf(string order) => _taken.GetValueOrDefault(order);

    public OrderRecord? DocumentOf(string order) => KeyOf(order) is { } key ? _documents.GetValueOrDefault(key) : null;

    /// <summary>Whose order it is, in words.</summary>
    public string? BuyerOf(OrderRecord order)
    {
        foreach (var role in new[] { ListRole.BillTo, ListRole.ShipTo })
            if (
                _store.Children.FirstOrDefault(c => c.Role == role) is { } list
                && order.Children[list.Name] is [var address, ..]
                && list.Fields.Text(address, FieldRole.Title) is { Length: > 0 } name
            )
                return name;
        return _store.Text(order.Values, FieldRole.Email);
    }

    /// <summary>An order with what the hub knows.</summary>
    public OrderPlace Place(OrderRecord order)
    {
        var hubKey = KeyOf(order.Key);
        var number = _store.Text(order.Values, FieldRole.Number);
        var agreed = hubKey is null ? null : _agreed.Of(hubKey, order.Key).GetValueOrDefault(OrderLaneComputation.Marks);
        return new OrderPlace(order, hubKey is null ? _shared : _shared with { Taken = [order.Key], Credited = [.. _credited[order.Key]] })
        {
            HubKey = hubKey,
            // What was decided about this one order comes after what holds for all, so that it counts.
            Choices = [.. _choices[""], .. _choices[order.Key]],
            Hub = DocumentOf(order.Key),
            Agreed = OrderMarks.Read(agreed?.Value),
            PaidApart = _paidApart.Contains($"{order.Key}/paid"),
            TitleOf = _items.Titles is { } titles ? titles.GetValueOrDefault : null,
            SkuOf = _items.Skus is { } skus ? skus.GetValueOrDefault : null,
            AddressesOf = _customers.AddressesOf,
            SameNumber = number is not null && _numbers.GetValueOrDefault(number) is { } first && first != order.Key ? first : null,
        };
    }

    private static async Task<ILookup<string, OrderChoice>> ChoicesAsync(OpenLane lane, NarbitContext db, CancellationToken cancel)
    {
        var decided = await db
            .OrderDecisions.AsNoTracking()
            .Where(d => d.LaneId == lane.Lane.Id && d.UndoneAt == null)
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        return decided.ToLookup(d => d.OrderKey ?? "", d => new OrderChoice(d.Kind, d.Subject, d.Value), StringComparer.Ordinal);
    }

    // The first order with a number has it; a later one with the same number is told so.
    private static async Task<Dictionary<string, string>> NumbersAsync(OpenLane lane, NarbitContext db, CancellationToken cancel)
    {
        var rows = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == lane.Source.System.Id && r.Kind == RecordKind.Order && r.Reference != null && r.GoneAt == null)
            .GroupBy(r => r.Reference!)
            .Where(g => g.Count() > 1)
            .Select(g => new { g.Key, First = g.Min(r => r.Id) })
            .ToListAsync(cancel);
        var ids = rows.Select(r => r.First).ToList();
        var keys = await db.Records.Where(r => ids.Contains(r.Id)).ToDictionaryAsync(r => r.Id, r => r.Key, cancel);
        return rows.ToDictionary(r => r.Key, r => keys[r.First], StringComparer.Ordinal);
    }

    private static async Task<Dictionary<string, OrderRecord>> DocumentsAsync(
        OpenLane lane,
        Database database,
        HashSet<string> wanted,
        bool isSmall,
        CancellationToken cancel
    )
    {
        var documents = new Dictionary<string, OrderRecord>(StringComparer.Ordinal);
        if (wanted.Count == 0)
            return documents;
        if (isSmall)
            return (await new MirrorStore(database).SomeAsync(lane.Target.System.Id, RecordKind.Order, wanted, [], cancel)).ToDictionary(
                r => r.Key,
                OrderRecord.Of,
                StringComparer.Ordinal
            );
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Order, cancel))
            if (wanted.Contains(row.Key))
                documents[row.Key] = OrderRecord.Of(row);
        return documents;
    }
}
