using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>Counts what an order rule would do, order by order; whether an order was taken before makes no difference to it.</summary>
/// <param name="lane">The lane.</param>
/// <param name="trial">The policy on trial.</param>
internal sealed class OrderTally(OpenLane lane, OrderPolicy trial) : TrialTally
{
    private const int Days = 60;
    private const int MostShown = 50;

    private readonly OrderReading _reading = new(lane.Sides.Source);
    private readonly List<(Order Order, OrderPlace Place, string? Buyer)> _orders = [];
    private int _failing;

    /// <inheritdoc/>
    public override void Add(LanePair pair, Computed? saved, Computed tried)
    {
        var place = ((OrderPair)pair).Place;
        var read = _reading.Read(place.Store);
        if (read.Fault is null)
            _orders.Add((read.Value, place, pair.Caption));
        else
            _failing++;
    }

    /// <inheritdoc/>
    public override TrialResult Result(IReadOnlyList<RuleFault> faults)
    {
        var since = _orders.Count == 0 ? DateTimeOffset.UnixEpoch : _orders.Max(o => o.Order.PlacedAt).AddDays(-Days);
        var looked = _orders.Where(o => o.Order.PlacedAt >= since).Select(Look).ToList();
        var changed = looked.Where(l => l.Trial != l.InForce).ToList();
        return new OrderTrial
        {
            Faults = faults,
            Since = since,
            Records = looked.Count,
            Changes = changed.Count,
            Held = looked.Count(l => l.Trial == OrderOutcome.Hold),
            Failing = _failing,
            Trial = Sums(looked, l => l.Trial),
            InForce = Sums(looked, l => l.InForce),
            Causes =
            [
                .. looked
                    .SelectMany(l => l.Causes)
                    .GroupBy(c => c, StringComparer.Ordinal)
                    .OrderByDescending(g => g.Count())
                    .Select(g => new OrderCauseCount(g.Key, OrderWords.Heading(g.Key), g.Count())),
            ],
            Met = new MetWords(
                Met(o => [o.State]),
                Met(o => [o.Payment.State]),
                Met(o => [o.Payment.Method]),
                Met(o => o.Shipping.Select(s => s.Method)),
                Met(o => [(o.ShipTo ?? o.BillTo)?.Country])
            ),
            Changed = [.. changed.OrderByDescending(l => l.Order.Total).Take(MostShown).Select(Shown)],
        };
    }

    private Looked Look((Order Order, OrderPlace Place, string? Buyer) one)
    {
        // What was taken is looked at as if it had not been: the rule is what is on trial.
        var known = (one.Place.Known with { Taken = [], Credited = [] }).Applied(one.Place.Choices);
        OrderResult? By(OrderRule rule) => Judged(rule.Applied(one.Place.Choices, one.Order), one.Order, known);
        var (now, then) = (By(trial.InForce), By(((OrderPolicy)lane.Document).InForce));
        return new Looked(one.Order, one.Buyer, now?.Outcome, then?.Outcome)
        {
            Causes = now?.Outcome is OrderOutcome.Hold or OrderOutcome.Wait ? [.. now.Causes.Select(c => c.Code).Distinct()] : [],
            Words = now is null ? null : OrderWords.Of(now.Causes.Select(c => CauseOfOrder.Of(c, one.Order))),
        };
    }

    private List<MetWord> Met(Func<Order, IEnumerable<string?>> words) =>
        [
            .. _orders
                .SelectMany(o => words(o.Order))
                .Where(w => !string.IsNullOrWhiteSpace(w))
                .GroupBy(w => w!, StringComparer.Ordinal)
                .OrderByDescending(g => g.Count())
                .Select(g => new MetWord(g.Key, g.Count())),
        ];

    private static OrderResult? Judged(OrderRule rule, Order order, KnownToHub known)
    {
        try
        {
            return rule.Compute(order, known);
        }
        catch (OverflowException)
        {
            return null;
        }
    }

    private OrderSums Sums(List<Looked> looked, Func<Looked, OrderOutcome?> outcome)
    {
        OrderSum Of(OrderOutcome wanted)
        {
            var some = looked.Where(l => outcome(l) == wanted).ToList();
            return new OrderSum(some.Count, Amount.SumsOf(some.Select(l => Total(l.Order))));
        }

        return new OrderSums(Of(OrderOutcome.Take), Of(OrderOutcome.Wait), Of(OrderOutcome.Hold), Of(OrderOutcome.Skip));
    }

    private Amount Total(Order order) => new(order.Currency ?? lane.Sides.SourceCurrency ?? "", order.Total);

    private ChangedOrder Shown(Looked looked) =>
        new()
        {
            SourceKey = looked.Order.Id,
            Number = looked.Order.Number,
            Buyer = looked.Buyer,
            Total = Total(looked.Order),
            InForce = looked.InForce,
            Trial = looked.Trial,
            Words = looked.Words is { Length: > 0 } words ? words : null,
        };

    private sealed record Looked(Order Order, string? Buyer, OrderOutcome? Trial, OrderOutcome? InForce)
    {
        public IReadOnlyList<string> Causes { get; init; } = [];

        public string? Words { get; init; }
    }
}
