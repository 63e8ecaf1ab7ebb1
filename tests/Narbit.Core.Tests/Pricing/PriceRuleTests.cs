using CsCheck;
using Narbit.Core.Pricing;

namespace Narbit.Core.Tests.Pricing;

public sealed class PriceRuleTests
{
    private static readonly DateTimeOffset At = new(2026, 6, 1, 0, 0, 0, TimeSpan.Zero);

    private static readonly Gen<decimal> Amount = Gen.Int[1, 500_000].Select(cents => cents / 100m);

    private static readonly Gen<PriceEnding> Ending = Gen.OneOf(
        Gen.Const(new PriceEnding()),
        Gen.Select(
            Any.Of(0.05m, 0.10m, 0.5m, 1m, 5m),
            Gen.Enum<Direction>(),
            (step, direction) =>
                new PriceEnding
                {
                    Kind = EndingKind.Step,
                    Step = step,
                    Direction = direction,
                }
        ),
        Gen.Select(
            Any.Of<decimal[]>([0.99m], [0.49m, 0.99m], [0m, 0.5m], [0.95m]),
            Gen.Enum<Direction>(),
            (endings, direction) =>
                new PriceEnding
                {
                    Kind = EndingKind.Charm,
                    Endings = endings,
                    Direction = direction,
                }
        )
    );

    private static readonly Gen<PriceRule> Rule =
        from ending in Ending
        from factor in Gen.Int[60, 250]
        from margin in Gen.Int[0, 60]
        from source in Gen.Enum<TaxBasis>()
        from target in Gen.Enum<TaxBasis>()
        from sale in Gen.Enum<SaleMode>()
        from rate in Any.Of(1m, 0.8562m, 1.1734m)
        select new PriceRule
        {
            PriceList = "retail",
            Bands = [new PriceBand { Multiply = factor / 100m }],
            CurrencyRate = rate,
            Tax = new TaxSides(source, target),
            Ending = ending,
            MinMargin = margin,
            Sale = sale,
        };

    private static readonly Gen<PriceItem> Item =
        from amount in Amount
        from sale in Amount
        from cost in Amount
        from tax in Any.Of(0m, 5m, 19m, 20m)
        select new PriceItem
        {
            Prices = new Dictionary<string, ListedPrice>
            {
                ["retail"] = new() { Amount = amount, Sale = sale },
            },
            Cost = cost,
            TaxRate = tax,
            At = At,
        };

    [Fact]
    public void The_worked_example_of_the_rules()
    {
        var rule = new PriceRule
        {
            PriceList = "retail",
            Bands = [new PriceBand { To = 60, Multiply = 1.18m }],
            Tax = new TaxSides(TaxBasis.Net, TaxBasis.Gross),
            Ending = new PriceEnding { Kind = EndingKind.Charm, Endings = [0.99m] },
        };
        var quote = rule.Price(Sold(18.40m, tax: 20));
        quote.Price.ShouldBe(25.99m);
        quote.Trace.Select(t => t.Step).ShouldBe(["pick", "sale", "bands", "currency", "tax", "ending", "floor", "compareAt"]);
        quote
            .Trace.Where(t => t.Before != t.After && t.Before is not null)
            .Select(t => $"{t.Before} → {t.After}")
            .ShouldBe(["18.4 → 21.712", "21.712 → 26.0544", "26.0544 → 25.99"]);
    }

    [Fact]
    public void A_floor_always_holds() =>
        Gen.Select(Rule, Item)
            .Sample(
                (rule, item) =>
                {
                    var minimum =
                        item.Cost!.Value
                        * rule.CurrencyRate
                        / (1 - rule.MinMargin!.Value / 100)
                        * (rule.Tax.Target == TaxBasis.Gross ? 1 + item.TaxRate / 100 : 1);
                    var quote = rule.Price(item);
                    (quote.Price >= decimal.Round(minimum, 12)).ShouldBeTrue();
                    (quote.SalePrice is null || quote.SalePrice >= decimal.Round(minimum, 12)).ShouldBeTrue();
                }
            );

    [Fact]
    public void Net_to_gross_to_net_returns_within_half_a_cent() =>
        Gen.Select(Amount, Gen.Int[0, 30])
            .Sample(
                (net, tax) =>
                {
                    var gross = Taxed(TaxBasis.Net, TaxBasis.Gross).Price(Sold(net, tax)).Price!.Value;
                    var back = Taxed(TaxBasis.Gross, TaxBasis.Net).Price(Sold(gross, tax)).Price!.Value;
                    Math.Abs(back - net).ShouldBeLessThanOrEqualTo(0.005m + 0.005m);
                    Math.Abs(gross / (1 + tax / 100m) - net).ShouldBeLessThanOrEqualTo(0.005m);
                }
            );

    [Fact]
    public void A_carried_sale_price_is_always_below_the_price() =>
        Gen.Select(Rule, Item)
            .Sample(
                (rule, item) =>
                {
                    var quote = (rule with { Sale = SaleMode.Carry }).Price(item);
                    (quote.SalePrice is null || quote.SalePrice < quote.Price).ShouldBeTrue();
                    (quote.Outcome == PriceOutcome.SaleNotLower).ShouldBe(quote.SalePrice is null);
                }
            );

    [Fact]
    public void An_ending_keeps_its_direction_and_its_form() =>
        Gen.Select(Ending, Amount)
            .Sample(
                (ending, amount) =>
                {
                    var price = new PriceRule { PriceList = "retail", Ending = ending }
                        .Price(Sold(amount))
                        .Price!.Value;
                    if (ending.Kind == EndingKind.Step)
                        (price % ending.Step!.Value).ShouldBe(0);
                    if (ending.Kind == EndingKind.Charm)
                        ending.Endings.ShouldContain(e => (price - e) % 1 == 0 && price >= e);
                    if (ending.Kind == EndingKind.None)
                        price.ShouldBe(amount);
                    if (ending is { Kind: not EndingKind.None, Direction: Direction.Up })
                        price.ShouldBeGreaterThanOrEqualTo(amount);
                    if (ending is { Kind: not EndingKind.None, Direction: Direction.Down })
                        (price <= amount || ending.Endings.All(e => e > amount)).ShouldBeTrue();
                }
            );

    [Fact]
    public void Each_step_starts_where_the_one_before_ended() =>
        Gen.Select(Rule, Item)
            .Sample(
                (rule, item) =>
                {
                    var steps = rule.Price(item)
                        .Trace.Where(t =>
                            t.Step is "pick" or "bands" or "currency" or "tax" or "ending" or "floor"
                            || (t.Step == "sale" && t.After is not null)
                        )
                        .ToList();
                    foreach (var (first, second) in steps.Zip(steps.Skip(1)))
                        second.Before.ShouldBe(first.After);
                }
            );

    [Theory]
    [InlineData(Direction.Nearest, "0.10", "1.15", "1.20")]
    [InlineData(Direction.Nearest, "0.10", "1.14", "1.10")]
    [InlineData(Direction.Up, "0.10", "1.11", "1.20")]
    [InlineData(Direction.Up, "0.10", "1.10", "1.10")]
    [InlineData(Direction.Down, "0.10", "1.19", "1.10")]
    public void A_step_rounds_the_way_it_says(Direction direction, string step, string amount, string expected) =>
        Ended(
                new PriceEnding
                {
                    Kind = EndingKind.Step,
                    Step = D(step),
                    Direction = direction,
                },
                D(amount)
            )
            .ShouldBe(D(expected));

    [Theory]
    [InlineData(Direction.Nearest, "0.49", "0.99")]
    [InlineData(Direction.Nearest, "26.05", "25.99")]
    [InlineData(Direction.Nearest, "26.49", "26.99")]
    [InlineData(Direction.Up, "26.00", "26.99")]
    [InlineData(Direction.Up, "26.99", "26.99")]
    [InlineData(Direction.Down, "26.98", "25.99")]
    [InlineData(Direction.Down, "0.30", "0.99")]
    public void A_charm_ending_goes_the_way_it_says(Direction direction, string amount, string expected) =>
        Ended(
                new PriceEnding
                {
                    Kind = EndingKind.Charm,
                    Endings = [0.99m],
                    Direction = direction,
                },
                D(amount)
            )
            .ShouldBe(D(expected));

    [Theory]
    [InlineData(Rounding.HalfUp, "0.125", "0.13")]
    [InlineData(Rounding.HalfEven, "0.125", "0.12")]
    [InlineData(Rounding.HalfEven, "0.135", "0.14")]
    public void Halves_round_as_told(Rounding rounding, string amount, string expected) =>
        new PriceRule { PriceList = "retail", Rounding = rounding }
            .Price(Sold(D(amount)))
            .Price.ShouldBe(D(expected));

    [Fact]
    public void A_sale_is_live_from_its_first_instant_to_just_before_its_end()
    {
        var item = Sold(10m) with
        {
            Prices = new Dictionary<string, ListedPrice>
            {
                ["retail"] = new()
                {
                    Amount = 10,
                    Sale = 8,
                    SaleFrom = At,
                    SaleTo = At.AddDays(1),
                },
            },
        };
        var rule = new PriceRule { PriceList = "retail", Sale = SaleMode.Merge };
        rule.Price(item with { At = At.AddTicks(-1) }).Price.ShouldBe(10);
        rule.Price(item with { At = At }).Price.ShouldBe(8);
        rule.Price(item with { At = At.AddDays(1).AddTicks(-1) }).Price.ShouldBe(8);
        rule.Price(item with { At = At.AddDays(1) }).Price.ShouldBe(10);
    }

    [Fact]
    public void A_carried_sale_uses_the_band_of_its_regular_amount()
    {
        var rule = new PriceRule
        {
            PriceList = "retail",
            Sale = SaleMode.Carry,
            Bands = [new PriceBand { To = 10, Multiply = 2 }, new PriceBand { From = 10, Multiply = 1.5m }],
        };
        var item = Sold(10m) with
        {
            Prices = new Dictionary<string, ListedPrice>
            {
                ["retail"] = new() { Amount = 10, Sale = 8 },
            },
        };
        rule.Price(item).SalePrice.ShouldBe(12);
    }

    [Fact]
    public void Without_a_price_in_any_list_there_is_an_outcome_and_a_reason()
    {
        var quote = new PriceRule { PriceList = "trade", FallbackLists = ["export"] }.Price(Sold(5m));
        quote.Outcome.ShouldBe(PriceOutcome.NoPrice);
        quote.Price.ShouldBeNull();
        quote.Trace.ShouldHaveSingleItem().Why.ShouldBe("no price in trade, export");
    }

    [Fact]
    public void An_exact_minimum_is_not_pushed_up_by_a_rounding_error()
    {
        // 100 ÷ 0.75 is periodic, but with 20 % tax the minimum is exactly 160.
        var quote = new PriceRule
        {
            PriceList = "retail",
            MinMargin = 25,
            Tax = new TaxSides(TaxBasis.Net, TaxBasis.Gross),
        }.Price(Sold(1m, 20) with { Cost = 100 });
        quote.Price.ShouldBe(160m);
    }

    private static PriceItem Sold(decimal amount, decimal tax = 0) =>
        new()
        {
            Prices = new Dictionary<string, ListedPrice> { ["retail"] = new() { Amount = amount } },
            TaxRate = tax,
            At = At,
        };

    private static PriceRule Taxed(TaxBasis source, TaxBasis target) => new() { PriceList = "retail", Tax = new TaxSides(source, target) };

    private static decimal Ended(PriceEnding ending, decimal amount) =>
        new PriceRule { PriceList = "retail", Ending = ending }
            .Price(Sold(amount))
            .Price!.Value;

    private static decimal D(string text) => decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture);
}
