using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Pairs;
using Narbit.Engine.Reading;

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
        var hub = await HubKnowledge.ReadAsync(lane, database, cancel);
        await foreach (var row in Rows(lane, database, only, cancel))
        {
            var store = OrderRecord.Of(row);
            yield return new LanePair(
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
                Order = hub.Place(store),
            };
        }
    }

    private static async IAsyncEnumerable<MirrorRow> Rows(
        OpenLane lane,
        Database database,
        IReadOnlySet<string>? only,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var mirror = new MirrorStore(database);
        if (only is not null)
        {
            foreach (var row in await mirror.SomeAsync(lane.Source.System.Id, RecordKind.Order, only, [], cancel))
                yield return row;
            yield break;
        }

        await foreach (var row in mirror.RowsAsync(lane.Source.System.Id, RecordKind.Order, cancel))
            yield return row;
    }
}

/// <summary>What the hub knows that orders of one store are about.</summary>
internal sealed class HubKnowledge
{
    private readonly Dictionary<string, string> _items;
    private readonly Dictionary<string, IReadOnlyList<KitComponent>> _kits;
    private readonly IReadOnlyList<KnownCustomer> _customers;
    private readonly Dictionary<string, string> _taken;
    private readonly HashSet<string> _credited;
    private readonly Dictionary<string, OrderRecord> _documents;
    private readonly Dictionary<string, string> _numbers;
    private readonly ILookup<string, OrderChoice> _choices;
    private readonly FieldSet _store;
    private readonly KnownToHub _shared;

    private HubKnowledge(
        OpenLane lane,
        Dictionary<string, string> items,
        Dictionary<string, IReadOnlyList<KitComponent>> kits,
        IReadOnlyList<KnownCustomer> customers,
        Dictionary<string, string> taken,
        HashSet<string> credited,
        Dictionary<string, OrderRecord> documents,
        Dictionary<string, string> numbers,
        ILookup<string, OrderChoice> choices
    )
    {
        _items = items;
        _kits = kits;
        _customers = customers;
        _taken = taken;
        _credited = credited;
        _documents = documents;
        _numbers = numbers;
        _choices = choices;
        _store = lane.Sides.Source;
        _shared = new KnownToHub
        {
            Items = _items,
            Kits = _kits,
            Customers = _customers,
        };
    }

    /// <summary>Reads it from the mirror, the pairs and what was made before.</summary>
    public static async Task<HubKnowledge> ReadAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var made = await db
            .Counterparts.AsNoTracking()
            .Where(c => c.SourceId == lane.Source.System.Id && c.TargetId == lane.Target.System.Id)
            .ToListAsync(cancel);
        var taken = made.Where(c => c.Kind == RecordKind.Order).ToDictionary(c => c.SourceKey, c => c.TargetKey, StringComparer.Ordinal);
        var (items, kits) = await ItemsAsync(lane, database, db, cancel);
        return new HubKnowledge(
            lane,
            items,
            kits,
            await CustomersAsync(lane, database, cancel),
            taken,
            [.. made.Where(c => c.Kind == RecordKind.CreditNote).Select(c => c.SourceKey)],
            await DocumentsAsync(lane, database, [.. taken.Values], cancel),
            await NumbersAsync(lane, db, cancel),
            await ChoicesAsync(lane, db, cancel)
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
        var prefix = $"{order.Key}/";
        return new OrderPlace(
            order,
            hubKey is null
                ? _shared
                : _shared with
                {
                    Taken = [order.Key],
                    Credited = [.. _credited.Where(c => c.StartsWith(prefix, StringComparison.Ordinal)).Select(c => c[prefix.Length..])],
                }
        )
        {
            HubKey = hubKey,
            // What was decided about this one order comes after what holds for all, so that it counts.
            Choices = [.. _choices[""], .. _choices[order.Key]],
            Hub = DocumentOf(order.Key),
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

    private static async Task<(Dictionary<string, string>, Dictionary<string, IReadOnlyList<KitComponent>>)> ItemsAsync(
        OpenLane lane,
        Database database,
        NarbitContext db,
        CancellationToken cancel
    )
    {
        var items = new Dictionary<string, string>(StringComparer.Ordinal);
        var kits = new Dictionary<string, IReadOnlyList<KitComponent>>(StringComparer.Ordinal);
        var couple = await db
            .Couples.AsNoTracking()
            .FirstOrDefaultAsync(
                c => c.Kind == RecordKind.Item && c.HubId == lane.Target.System.Id && c.OtherId == lane.Source.System.Id,
                cancel
            );
        if (couple is null)
            return (items, kits);
        var links = (await db.Links.AsNoTracking().Where(l => l.CoupleId == couple.Id).ToListAsync(cancel)).ToLookup(
            l => l.OtherKey,
            StringComparer.Ordinal
        );
        var used = new HashSet<string>(StringComparer.Ordinal);
        await foreach (var listing in new MirrorStore(database).RowsAsync(lane.Source.System.Id, RecordKind.Item, cancel))
        {
            var own = links[listing.Key].OrderBy(l => l.Id).ToList();
            if (listing.Reference is not { Length: > 0 } sku || own.Count == 0)
                continue;
            // A SKU that stands for two items says nothing of which was bought.
            if (!used.Add(sku) && items.GetValueOrDefault(sku) != own[0].HubKey)
            {
                items.Remove(sku);
                kits.Remove(sku);
            }
            else if (own[0].IsKit)
                kits[sku] = [.. own.Select(Component)];
            else
                items[sku] = own[0].HubKey;
        }

        return (items, kits);
    }

    private static KitComponent Component(PairLink link) => new(link.HubKey, (int)Math.Max(1, link.Quantity));

    private static async Task<IReadOnlyList<KnownCustomer>> CustomersAsync(OpenLane lane, Database database, CancellationToken cancel)
    {
        if (lane.Target.Adapter.Kinds.FirstOrDefault(k => k.Kind == RecordKind.Customer)?.Fields is not { } fields)
            return [];
        var customers = new List<KnownCustomer>();
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Customer, cancel))
        {
            var values = StoredRecord.Values(row.Values);
            customers.Add(
                new KnownCustomer
                {
                    Key = row.Key,
                    Account = fields.Text(values, FieldRole.Account),
                    Email = fields.Text(values, FieldRole.Email),
                    Phone = fields.Text(values, FieldRole.Phone),
                    Name = fields.Text(values, FieldRole.Title),
                    Postcode = fields.Text(values, FieldRole.Postcode),
                }
            );
        }

        return customers;
    }

    private static async Task<Dictionary<string, OrderRecord>> DocumentsAsync(
        OpenLane lane,
        Database database,
        HashSet<string> wanted,
        CancellationToken cancel
    )
    {
        var documents = new Dictionary<string, OrderRecord>(StringComparer.Ordinal);
        if (wanted.Count == 0)
            return documents;
        await foreach (var row in new MirrorStore(database).RowsAsync(lane.Target.System.Id, RecordKind.Order, cancel))
            if (wanted.Contains(row.Key))
                documents[row.Key] = OrderRecord.Of(row);
        return documents;
    }
}
