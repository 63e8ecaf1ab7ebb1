using System.Globalization;

namespace Narbit.Sandbox.Orders;

/// <summary>The orders of one store. All access goes through its lock; every change is kept in a journal as the order is then.</summary>
public sealed class StoreOrders : IDisposable
{
    private readonly Lock _gate = new();
    private readonly List<StoreOrder> _orders = [];
    private readonly Dictionary<string, int> _places = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string> _placedKeys = new(StringComparer.Ordinal);
    private readonly HashSet<string> _seenKeys = new(StringComparer.Ordinal);
    private readonly Journal<StoreOrder> _journal;
    private readonly TimeProvider _clock;

    public StoreOrders(IReadOnlyList<StoreOrder> orders, string? journalPath, TimeProvider clock)
    {
        _clock = clock;
        foreach (var order in orders)
            Put(order);
        _journal = new Journal<StoreOrder>(journalPath);
        foreach (var order in _journal.Replay())
            Put(order);
    }

    /// <summary>Told of every order that came or changed.</summary>
    public event Action<StoreOrder>? Changed;

    /// <summary>All of them, oldest first.</summary>
    public IReadOnlyList<StoreOrder> All
    {
        get
        {
            lock (_gate)
                return [.. _orders];
        }
    }

    /// <summary>The orders changed since an instant, by their places.</summary>
    public (IReadOnlyList<StoreOrder> Orders, int Total) Page(int skip, int take, DateTimeOffset? since)
    {
        lock (_gate)
        {
            var matching = since is { } s ? _orders.Where(o => o.ChangedAt >= s).ToList() : _orders;
            return ([.. matching.Skip(skip).Take(take)], matching.Count);
        }
    }

    public IReadOnlyList<StoreOrder> Find(IEnumerable<string> ids)
    {
        lock (_gate)
            return [.. ids.Where(_places.ContainsKey).Select(id => _orders[_places[id]])];
    }

    /// <summary>Takes an order that is placed now, and numbers it.</summary>
    public StoreOrder Place(Func<int, StoreOrder> make)
    {
        StoreOrder placed;
        lock (_gate)
        {
            var now = _clock.GetUtcNow();
            placed = make(_orders.Count + 1) with { PlacedAt = now, ChangedAt = now };
            Put(placed);
            _journal.Add(placed);
        }

        Changed?.Invoke(placed);
        return placed;
    }

    /// <summary>Takes an order that a program places for another store; a key or a number seen before makes nothing twice.</summary>
    public (string? Id, string? Refusal, bool IsNew) Take(string? key, Func<int, StoreOrder> make)
    {
        lock (_gate)
        {
            if (key is not null && _placedKeys.TryGetValue(key, out var earlier))
                return (earlier, null, false);
            var wanted = make(_orders.Count + 1);
            if (wanted.External.Length == 0 || wanted.Lines.Count == 0)
                return (null, "An order needs its number elsewhere, and lines.", false);
            if (_orders.Find(o => o.External == wanted.External) is { } same)
                return (null, $"Order {same.Number} has the number {wanted.External} already.", false);
        }

        var placed = Place(n => make(n) with { Key = key ?? "" });
        return (placed.Id, null, true);
    }

    /// <summary>The orders with numbers of another store.</summary>
    public IReadOnlyList<StoreOrder> External(IReadOnlyCollection<string> numbers)
    {
        lock (_gate)
            return [.. _orders.Where(o => o.External.Length > 0 && numbers.Contains(o.External))];
    }

    /// <summary>Changes an order.</summary>
    /// <returns>Why not, or null.</returns>
    public string? Change(string id, Func<StoreOrder, StoreOrder> change)
    {
        StoreOrder changed;
        lock (_gate)
        {
            if (!_places.TryGetValue(id, out var place))
                return $"There is no order {id}.";
            changed = change(_orders[place]) with { ChangedAt = _clock.GetUtcNow() };
            Put(changed);
            _journal.Add(changed);
        }

        Changed?.Invoke(changed);
        return null;
    }

    /// <summary>Takes what a program says of an order; a key seen before changes nothing.</summary>
    /// <returns>Why not, or null.</returns>
    public string? Tell(OrderNews news)
    {
        lock (_gate)
        {
            if (news.Key is { } key && !_seenKeys.Add(key))
                return null;
        }

        return Change(news.Id, o => Told(o, news));
    }

    private static StoreOrder Told(StoreOrder order, OrderNews news)
    {
        var told = order with
        {
            State = news.State ?? order.State,
            HubNumber = news.HubNumber ?? order.HubNumber,
            Parcels = news.Parcels ?? order.Parcels,
            Answer = news.Answer ?? order.Answer,
            ShipTo = news.ShipTo ?? order.ShipTo,
        };
        if (news.Lines is not { } lines)
            return told;
        var quantities = lines.ToDictionary(l => l.Line, l => l.Quantity, StringComparer.Ordinal);
        return Reckoning.Added(
            told with
            {
                Lines = [.. order.Lines.Where(l => quantities.ContainsKey(l.Id)).Select(l => l with { Quantity = quantities[l.Id] })],
            },
            gross: true
        );
    }

    /// <summary>Gives back some of an order: all of one line, or all that is left.</summary>
    public string? GiveBack(string id, string? line, int quantity, bool gross)
    {
        var at = _clock.GetUtcNow();
        return Change(
            id,
            o =>
            {
                var back = o with
                {
                    Lines =
                    [
                        .. o
                            .Lines.Where(l => line is null || l.Id == line)
                            .Select(l => l with { Quantity = line is null ? l.Quantity : Math.Min(quantity, l.Quantity) }),
                    ],
                    Shipping = line is null ? o.Shipping : [],
                    Discounts = line is null ? o.Discounts : [],
                    Fees = line is null ? o.Fees : [],
                };
                var sum = Reckoning.Added(back, gross);
                var refund = new GivenBack(
                    (o.Refunds.Count + 1).ToString(CultureInfo.InvariantCulture) + $"-{o.Id}",
                    at,
                    [.. back.Lines.Select(l => new ReturnedLine(l.Id, l.Quantity))],
                    back.Shipping.Sum(s => s.Amount),
                    sum.Total,
                    true
                );
                return o with { Refunds = [.. o.Refunds, refund] };
            }
        );
    }

    public void Dispose() => _journal.Dispose();

    private void Put(StoreOrder order)
    {
        if (order.Key.Length > 0)
            _placedKeys[order.Key] = order.Id;
        if (_places.TryGetValue(order.Id, out var place))
        {
            _orders[place] = order;
            return;
        }

        _places[order.Id] = _orders.Count;
        _orders.Add(order);
    }
}
