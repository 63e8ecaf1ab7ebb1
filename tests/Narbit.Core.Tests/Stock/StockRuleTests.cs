using CsCheck;
using Narbit.Core.Stock;

namespace Narbit.Core.Tests.Stock;

public sealed class StockRuleTests
{
    private static readonly Gen<StockLevel> Level =
        from location in Any.Of("main", "shop", "overflow")
        from onHand in Gen.Int[0, 300]
        from allocated in Gen.Int[0, 40]
        from incoming in Gen.Int[0, 60]
        select new StockLevel(location, onHand, allocated, incoming);

    private static readonly Gen<Replenish> Follow =
        from kind in Gen.Enum<ReplenishKind>()
        from limit in Gen.Int[0, 50]
        from at in Gen.Int[0, 10]
        from to in Gen.Int[11, 40]
        select new Replenish
        {
            Kind = kind,
            Limit = limit == 0 ? null : limit,
            AtOrBelow = at,
            To = to,
        };

    private static readonly Gen<StockRule> Rule =
        from basis in Gen.Enum<StockBasis>()
        from incoming in Gen.Bool
        from share in Gen.Int[0, 100]
        from hold in Gen.Int[0, 9]
        from zero in Gen.Int[0, 9]
        from cap in Gen.Int[0, 99]
        from bands in Gen.Bool
        from replenish in Follow
        select new StockRule
        {
            Basis = basis,
            IncludeIncoming = incoming,
            Locations = incoming ? ["main", "shop"] : [],
            Share = share,
            HoldBack = hold,
            ZeroBelow = zero,
            Cap = cap,
            Bands = bands
                ?
                [
                    new StockBand
                    {
                        From = 0,
                        To = 11,
                        Add = 4,
                    },
                    new StockBand
                    {
                        From = 12,
                        To = 120,
                        Set = 24,
                    },
                ]
                : [],
            Replenish = replenish,
        };

    private static readonly Gen<StockItem> Item =
        from levels in Level.Array[0, 4]
        from target in Gen.Int[0, 100]
        from last in Gen.Int[-20, 400]
        select new StockItem
        {
            Levels = levels,
            Target = target,
            LastSource = last,
        };

    [Fact]
    public void A_quantity_never_exceeds_its_offer_and_is_never_negative() =>
        Gen.Select(Rule, Item)
            .Sample(
                (rule, item) =>
                {
                    var offer = (rule with { Replenish = new Replenish() }).Quantity(item).Quantity;
                    var quantity = rule.Quantity(item).Quantity;
                    quantity.ShouldBeLessThanOrEqualTo(offer);
                    quantity.ShouldBeGreaterThanOrEqualTo(0);
                    quantity.ShouldBeLessThanOrEqualTo(rule.Cap!.Value);
                }
            );

    [Fact]
    public void The_order_of_the_locations_makes_no_difference() =>
        Gen.Select(Rule, Item)
            .Sample(
                (rule, item) =>
                    rule.Quantity(item with { Levels = [.. item.Levels.Reverse()] }).Quantity.ShouldBe(rule.Quantity(item).Quantity)
            );

    [Fact]
    public void A_kit_never_promises_more_than_its_scarcest_component() =>
        Gen.Select(Level.Array[1, 3], Level.Array[1, 3], Gen.Int[1, 4], Gen.Int[1, 4])
            .Sample(
                (a, b, na, nb) =>
                {
                    var rule = new StockRule();
                    var source = rule.Quantity(new StockItem { Kit = [new KitPart(na, a), new KitPart(nb, b)] }).Source!.Value;
                    (source * na).ShouldBeLessThanOrEqualTo(Math.Max(0, rule.Count(a)));
                    (source * nb).ShouldBeLessThanOrEqualTo(Math.Max(0, rule.Count(b)));
                }
            );

    [Theory]
    [InlineData(null, 15)]
    [InlineData(8, 8)]
    public void Following_an_increase_as_in_the_rules(int? limit, int expected) =>
        new StockRule
        {
            Replenish = new Replenish { Kind = ReplenishKind.FollowIncrease, Limit = limit },
        }
            .Quantity(Held(52) with { Target = 3, LastSource = 40 })
            .Quantity.ShouldBe(expected);

    [Fact]
    public void A_limit_never_lowers_what_the_target_has() =>
        new StockRule
        {
            Replenish = new Replenish { Kind = ReplenishKind.FollowIncrease, Limit = 5 },
        }
            .Quantity(Held(52) with { Target = 9, LastSource = 40 })
            .Quantity.ShouldBe(9);

    [Fact]
    public void Zero_below_as_in_the_rules() =>
        new StockRule { ZeroBelow = 6 }
            .Quantity(Held(5))
            .Quantity.ShouldBe(0);

    [Fact]
    public void A_negative_quantity_stays_only_where_it_is_allowed()
    {
        var rule = new StockRule { ZeroBelow = 6 };
        rule.Quantity(Held(-3)).Quantity.ShouldBe(0);
        (rule with { AllowNegative = true }).Quantity(Held(-3)).Quantity.ShouldBe(-3);
    }

    [Theory]
    [InlineData(2, 20)]
    [InlineData(3, 20)]
    [InlineData(4, 4)]
    public void Topping_up_starts_at_its_threshold(int target, int expected) =>
        new StockRule
        {
            Replenish = new Replenish
            {
                Kind = ReplenishKind.TopUp,
                AtOrBelow = 3,
                To = 20,
            },
        }
            .Quantity(Held(50) with { Target = target })
            .Quantity.ShouldBe(expected);

    [Fact]
    public void A_first_publication_starts_small() =>
        new StockRule { FirstPublish = 3 }
            .Quantity(Held(50) with { Published = false, Target = 40 })
            .Quantity.ShouldBe(3);

    [Fact]
    public void An_item_that_is_not_tracked_has_no_source()
    {
        var quote = new StockRule { Untracked = 99 }.Quantity(Held(5) with { Tracked = false });
        (quote.Quantity, quote.Source).ShouldBe((99, null));
        quote.Trace.ShouldHaveSingleItem().Why.ShouldBe("the source does not count this item");
    }

    [Fact]
    public void The_trace_tells_every_step_from_the_basis_to_the_result()
    {
        var quote = new StockRule
        {
            Share = 50,
            HoldBack = 2,
            Cap = 10,
        }.Quantity(Held(40));
        quote
            .Trace.Select(t => $"{t.Step} {t.After}")
            .ShouldBe(["basis 40", "bands 40", "share 20", "holdBack 18", "zeroBelow 18", "cap 10", "neverNegative 10", "replenish 10"]);
    }

    private static StockItem Held(decimal onHand) => new() { Levels = [new StockLevel("main", onHand)] };
}
