using CsCheck;
using Narbit.Core.Timetables;

namespace Narbit.Core.Tests.Timetables;

/// <summary>Replays against a slow one that goes through every minute, and what is said of those that are none.</summary>
public sealed class StockReplayTests
{
    private static readonly DateTimeOffset From = new(2026, 10, 5, 6, 0, 0, TimeSpan.Zero);
    private static readonly string[] Stores = ["market", "portal", "shop"];
    private static readonly string[] Skus = ["LM-0", "LM-1", "LM-2"];

    private static readonly Gen<int> Minutes = Gen.Int[0, 4].Select(i => new[] { 0, 1, 5, 7, 30 }[i]);

    private static readonly Gen<StockReplay> Any = Gen.Select(
        Gen.Long[0, 12].Array[2],
        Gen.Select(Minutes.Array[3], Minutes.Array[3]),
        Gen.Select(Gen.Int[0, 120], Gen.Int[0, 2].Select(i => Stores[i]), Gen.Int[0, 2].Select(i => Skus[i]), Gen.Int[1, 4]).Array[0, 60],
        Gen.Select(Gen.Int[0, 120], Gen.Int[0, 2].Select(i => Skus[i]), Gen.Int[1, 6]).Array[0, 8],
        (stock, every, orders, deliveries) =>
            new StockReplay
            {
                From = From,
                // The third starts at nothing.
                Stock = Skus.Zip(stock).ToDictionary(s => s.First, s => s.Second),
                Intake = Stores.Zip(every.Item1).ToDictionary(s => s.First, s => s.Second),
                Publish = Stores.Zip(every.Item2).ToDictionary(s => s.First, s => s.Second),
                Orders = [.. orders.Select(o => new ReplayedOrder(From.AddMinutes(o.Item1), o.Item2, o.Item3, o.Item4))],
                Deliveries = [.. deliveries.Select(d => new ReplayedDelivery(From.AddMinutes(d.Item1), d.Item2, d.Item3))],
            }
    );

    [Fact]
    public void It_is_as_if_every_minute_were_gone_through() =>
        Any.Sample(replay => replay.Run().Value.ShouldBe(new Minutewise(replay).Run()), iter: 2_000);

    [Fact]
    public void At_once_nothing_is_ever_oversold() =>
        Any.Sample(
            replay =>
            {
                var atOnce = Stores.ToDictionary(s => s, _ => 0);
                var result = (replay with { Intake = atOnce, Publish = atOnce }).Run().Value;
                (result.Oversold, result.Short, result.Missed).ShouldBe((0, 0, 0));
                (result.Accepted + result.Refused).ShouldBe(replay.Orders.Count);
            },
            iter: 300
        );

    [Fact]
    public void What_is_wrong_is_said_by_its_part()
    {
        var replay = new StockReplay
        {
            From = From,
            Stock = new Dictionary<string, long> { ["LM-0"] = 3 },
            Intake = new Dictionary<string, int> { ["shop"] = 5 },
            Publish = new Dictionary<string, int> { ["shop"] = 5 },
            Orders = [new ReplayedOrder(From, "shop", "LM-9", 1)],
            Deliveries = [],
        };
        replay.Run().Value.ShouldBe(new ReplayResult(0, 0, 0, 0, 1));
        Said(replay with { Stock = new Dictionary<string, long> { ["LM-0"] = -1 } })
            .ShouldBe("stock: LM-0 has -1, which is less than nothing.");
        Said(replay with { Publish = new Dictionary<string, int>() }).ShouldBe("publish: shop is missing.");
        Said(replay with { Intake = new Dictionary<string, int>() }).ShouldBe("intake: shop is missing.");
        Said(replay with { Intake = new Dictionary<string, int> { ["shop"] = -5 } }).ShouldStartWith("intake: -5 minutes of shop");
        Said(replay with { Orders = [new ReplayedOrder(From, "till", "LM-0", 1)] }).ShouldBe("intake: till is missing.");
        Said(replay with { Orders = [new ReplayedOrder(From.AddSeconds(-1), "shop", "LM-0", 1)] }).ShouldContain("before the beginning");
        Said(replay with { Orders = [new ReplayedOrder(From, "shop", "LM-0", 0)] }).ShouldContain("at least 1");
        Said(replay with { Deliveries = [new ReplayedDelivery(From.AddDays(-1), "LM-0", 1)] }).ShouldContain("before the beginning");
        Said(replay with { Deliveries = [new ReplayedDelivery(From, "LM-0", -1)] }).ShouldContain("at least 1");
    }

    private static string Said(StockReplay replay) => replay.Run().Fault!.Words;

    // As the design tells it, minute by minute.
    private sealed class Minutewise(StockReplay replay)
    {
        private readonly Dictionary<string, long> _truth = Start(replay);
        private readonly Dictionary<string, long> _hub = Start(replay);
        private readonly Dictionary<string, Dictionary<string, long>> _shown = Stores.ToDictionary(s => s, _ => Start(replay));
        private readonly List<ReplayedOrder> _owed = [];

        public ReplayResult Run()
        {
            var result = new ReplayResult();
            for (var minute = 0; minute <= 121; minute++)
            {
                var at = From.AddMinutes(minute);
                foreach (var delivery in replay.Deliveries.Where(d => d.At == at))
                {
                    _truth[delivery.Sku] += delivery.Quantity;
                    Change(delivery.Sku, delivery.Quantity);
                }

                foreach (var order in replay.Orders.Where(o => o.At == at))
                    result = Take(order, result);
                foreach (var store in Stores.Where(s => minute > 0 && replay.Intake[s] > 0 && minute % replay.Intake[s] == 0))
                    Read(store);
                foreach (var store in Stores.Where(s => minute > 0 && replay.Publish[s] > 0 && minute % replay.Publish[s] == 0))
                foreach (var sku in Skus)
                    _shown[store][sku] = Math.Max(0, _hub[sku]);
            }

            return result;
        }

        private ReplayResult Take(ReplayedOrder order, ReplayResult before)
        {
            if (order.Quantity > _shown[order.Store][order.Sku])
                return before with { Refused = before.Refused + 1, Missed = before.Missed + (_truth[order.Sku] >= order.Quantity ? 1 : 0) };
            var lacking = order.Quantity - Math.Max(0, _truth[order.Sku]);
            _shown[order.Store][order.Sku] -= order.Quantity;
            _truth[order.Sku] -= order.Quantity;
            if (replay.Intake[order.Store] == 0)
                Change(order.Sku, -order.Quantity);
            else
                _owed.Add(order);
            return before with
            {
                Accepted = before.Accepted + 1,
                Oversold = before.Oversold + (lacking > 0 ? 1 : 0),
                Short = before.Short + Math.Max(0, lacking),
            };
        }

        private void Read(string store)
        {
            foreach (var order in _owed.Where(o => o.Store == store).ToList())
            {
                Change(order.Sku, -order.Quantity);
                _owed.Remove(order);
            }
        }

        private void Change(string sku, long by)
        {
            _hub[sku] += by;
            foreach (var store in Stores.Where(s => replay.Publish[s] == 0))
                _shown[store][sku] = Math.Max(0, _hub[sku]);
        }

        private static Dictionary<string, long> Start(StockReplay replay) =>
            Skus.ToDictionary(s => s, s => replay.Stock.GetValueOrDefault(s));
    }
}
