using System.Runtime.InteropServices;

namespace Narbit.Core.Timetables;

/// <summary>
/// One pass through a replay. Within an instant: deliveries, then orders, then intakes, then publishes. A store is read only where an
/// order of it has not reached the hub, and told only where it shows another quantity than the hub has; in between nothing changes, so
/// those times are passed over.
/// </summary>
internal sealed class ReplayedDay
{
    private const long Never = long.MaxValue;

    private readonly Dictionary<string, int> _skus = new(StringComparer.Ordinal);
    private readonly Store[] _stores;
    private readonly Happened[] _orders;
    private readonly Happened[] _deliveries;
    private readonly long[] _truth;
    private readonly long[] _hub;
    private readonly ShownPart _part;
    private readonly Action<ReplayTrouble>? _troubles;
    private readonly string[] _names;
    private readonly string[] _skuNames = [];
    private ReplayResult _result;

    // Stores and SKUs by their places.
    private readonly record struct Happened(long At, int Store, int Sku, int Quantity);

    public ReplayedDay(StockReplay replay, Action<ReplayTrouble>? troubles)
    {
        (_part, _troubles) = (replay.Shown, troubles);
        string[] names = [.. replay.Intake.Keys.Order(StringComparer.Ordinal)];
        var stores = names.Select((name, i) => (name, i)).ToDictionary(s => s.name, s => s.i, StringComparer.Ordinal);
        _orders = InOrder([.. replay.Orders.Select(o => new Happened(o.At.UtcTicks, stores[o.Store], SkuOf(o.Sku), o.Quantity))]);
        _deliveries = InOrder([.. replay.Deliveries.Select(d => new Happened(d.At.UtcTicks, 0, SkuOf(d.Sku), d.Quantity))]);
        foreach (var sku in replay.Stock.Keys)
            SkuOf(sku);
        _truth = new long[_skus.Count];
        foreach (var (sku, pieces) in replay.Stock)
            _truth[_skus[sku]] = pieces;
        _hub = [.. _truth];
        _names = names;
        if (troubles is not null)
            _skuNames = [.. _skus.OrderBy(s => s.Value).Select(s => s.Key)];
        _stores =
        [
            .. names.Select(name => new Store(replay.Intake[name], replay.Publish[name], [.. _hub.Select(_part.Of)], replay.From.UtcTicks)),
        ];
    }

    private int SkuOf(string sku)
    {
        ref var place = ref CollectionsMarshal.GetValueRefOrAddDefault(_skus, sku, out var isKnown);
        if (!isKnown)
            place = _skus.Count - 1;
        return place;
    }

    // What happened is mostly told in its order.
    private static Happened[] InOrder(Happened[] happened)
    {
        for (var i = 1; i < happened.Length; i++)
            if (happened[i].At < happened[i - 1].At)
                return [.. happened.OrderBy(h => h.At)];
        return happened;
    }

    public ReplayResult Run()
    {
        var delivered = 0;
        foreach (var order in _orders)
        {
            for (; delivered < _deliveries.Length && _deliveries[delivered].At <= order.At; delivered++)
                Deliver(_deliveries[delivered]);
            PassUntil(order.At);
            Take(order, _stores[order.Store]);
        }

        return _result;
    }

    private void Deliver(Happened delivery)
    {
        PassUntil(delivery.At);
        _truth[delivery.Sku] += delivery.Quantity;
        HubChanges(delivery.Sku, delivery.Quantity, delivery.At);
    }

    private void Take(Happened order, Store store)
    {
        var (at, _, sku, quantity) = order;
        if (quantity > store.Shown[sku])
        {
            var missed = _truth[sku] >= quantity ? 1 : 0;
            _result = _result with { Refused = _result.Refused + 1, Missed = _result.Missed + missed };
            if (missed > 0)
                Tell(order, 0);
            return;
        }

        store.Shown[sku] -= quantity;
        var lacking = quantity - Math.Max(0, _truth[sku]);
        _truth[sku] -= quantity;
        _result = _result with
        {
            Accepted = _result.Accepted + 1,
            Oversold = _result.Oversold + (lacking > 0 ? 1 : 0),
            Short = _result.Short + Math.Max(0, lacking),
        };
        if (lacking > 0)
            Tell(order, lacking);
        if (store.IsReadAtOnce)
            HubChanges(sku, -quantity, at);
        else
            store.Owes(sku, quantity, at);
        store.Differs(sku, at);
    }

    private void Tell(Happened order, long lacking)
    {
        if (_troubles is null)
            return;
        var at = new DateTimeOffset(order.At, TimeSpan.Zero);
        _troubles(new ReplayTrouble(new ReplayedOrder(at, _names[order.Store], _skuNames[order.Sku], order.Quantity), lacking));
    }

    // The intakes and publishes before an instant, in their order.
    private void PassUntil(long instant)
    {
        while (true)
        {
            var next = Never;
            foreach (var store in _stores)
                next = Math.Min(next, Math.Min(store.NextIntake, store.NextPublish));
            if (next >= instant)
                return;
            foreach (var store in _stores)
                if (store.NextIntake == next)
                    Read(store, next);
            foreach (var store in _stores)
                if (store.NextPublish == next)
                    store.Tell(_hub, _part);
        }
    }

    private void Read(Store store, long at)
    {
        foreach (var (sku, quantity) in store.Settled())
            HubChanges(sku, -quantity, at);
    }

    private void HubChanges(int sku, long by, long at)
    {
        _hub[sku] += by;
        foreach (var store in _stores)
            if (store.IsToldAtOnce)
                store.Shown[sku] = _part.Of(_hub[sku]);
            else
                store.Differs(sku, at);
    }

    private sealed class Store(int intake, int publish, long[] shown, long from)
    {
        private readonly List<(int Sku, int Quantity)> _owed = [];
        private readonly List<int> _different = [];
        private readonly bool[] _isDifferent = new bool[shown.Length];

        public long[] Shown => shown;

        public bool IsReadAtOnce => intake == 0;

        public bool IsToldAtOnce => publish == 0;

        public long NextIntake { get; private set; } = Never;

        public long NextPublish { get; private set; } = Never;

        public void Owes(int sku, int quantity, long at)
        {
            _owed.Add((sku, quantity));
            if (_owed.Count == 1)
                NextIntake = NextOf(intake, at);
        }

        public (int Sku, int Quantity)[] Settled()
        {
            var owed = _owed.ToArray();
            _owed.Clear();
            NextIntake = Never;
            return owed;
        }

        /// <summary>Notes that it may show another quantity than the hub has.</summary>
        public void Differs(int sku, long at)
        {
            if (IsToldAtOnce || _isDifferent[sku])
                return;
            _isDifferent[sku] = true;
            _different.Add(sku);
            if (_different.Count == 1)
                NextPublish = NextOf(publish, at);
        }

        public void Tell(long[] hub, ShownPart part)
        {
            foreach (var sku in _different)
            {
                shown[sku] = part.Of(hub[sku]);
                _isDifferent[sku] = false;
            }

            _different.Clear();
            NextPublish = Never;
        }

        // The first time at or after an instant; what happens in that instant itself comes before it.
        private long NextOf(int minutes, long at)
        {
            var step = minutes * TimeSpan.TicksPerMinute;
            var steps = Math.Max(1, (at - from + step - 1) / step);
            return from + steps * step;
        }
    }
}
