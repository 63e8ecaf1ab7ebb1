using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>What is so of every order, whatever is in it.</summary>
public sealed class OrderPropertyTests
{
    private const int Rounds = 400;

    [Fact]
    public void Net_and_tax_are_gross_on_every_line_and_in_every_sum()
    {
        foreach (var (rule, order, known) in Orders())
        {
            var result = rule.Compute(order, known);
            if (result.Document is not { } document)
                continue;
            document.Lines.ShouldAllBeSo(l => l.Net + l.Tax == l.Gross);
            document.Totals.ShouldBe(
                new DocumentTotals(document.Lines.Sum(l => l.Net), document.Lines.Sum(l => l.Tax), document.Lines.Sum(l => l.Gross))
            );
            foreach (var note in result.CreditNotes)
                note.Lines.ShouldAllBeSo(l => l.Net + l.Tax == l.Gross);
        }
    }

    [Fact]
    public void What_is_taken_adds_up_to_what_the_buyer_pays()
    {
        var taken = 0;
        foreach (var (rule, order, known) in Orders())
        {
            var result = rule.Compute(order, known);
            if (result.Outcome != OrderOutcome.Take || result.Remarks.Contains("lineOmitted"))
                continue;
            taken++;
            Math.Abs(order.Total - result.Document!.Totals.Gross).ShouldBeLessThanOrEqualTo(rule.Tolerance);
        }

        taken.ShouldBeGreaterThan(Rounds / 10);
    }

    [Fact]
    public void Refunding_all_goods_in_any_portions_gives_the_goods_and_discounts_of_the_document_back()
    {
        var portions = 0;
        foreach (var (rule, order, known) in Orders())
        {
            var random = new Random(order.Id.GetHashCode(StringComparison.Ordinal));
            var refunds = Portions(order, random).ToList();
            var result = rule.Compute(order with { Refunds = refunds }, known);
            if (result.Outcome != OrderOutcome.Take)
                continue;
            portions += refunds.Count;
            foreach (var kind in new[] { DocumentLineKind.Goods, DocumentLineKind.Discount })
            {
                var document = result.Document!.Lines.Where(l => l.Kind == kind).ToList();
                var credited = result.CreditNotes.SelectMany(n => n.Lines).Where(l => l.Kind == kind).ToList();
                credited.Sum(l => l.Gross).ShouldBe(document.Sum(l => l.Gross));
                credited.Sum(l => l.Net).ShouldBe(document.Sum(l => l.Net));
            }
        }

        portions.ShouldBeGreaterThan(Rounds / 5);
    }

    [Fact]
    public void Taking_twice_is_taking_once_and_crediting_twice_is_crediting_once()
    {
        foreach (var (rule, order, known) in Orders())
        {
            var once = rule.Compute(order, known);
            var twice = rule.Compute(order, known with { Taken = [order.Id] });
            (twice.Outcome, twice.Document).ShouldBe((OrderOutcome.Skip, null));
            twice.Causes.ShouldHaveSingleItem().Code.ShouldBe("taken");
            if (once.Outcome == OrderOutcome.Take)
                twice.CreditNotes.Select(n => n.Totals).ShouldBe(once.CreditNotes.Select(n => n.Totals));
            rule.Compute(order, known with { Taken = [order.Id], Credited = [.. order.Refunds.Select(r => r.Id)] })
                .CreditNotes.ShouldBeEmpty();
        }
    }

    [Fact]
    public void Names_of_lines_and_their_order_change_nothing_but_the_order()
    {
        foreach (var (rule, order, known) in Orders())
        {
            // Units that are missing go to the earlier of two equal remainders, so only what does not share anything out may be turned.
            if (rule.Discounts == DiscountChoice.Spread || rule.Tax.Rounding == TaxRounding.Rate)
                continue;
            var renamed = order with { Lines = [.. order.Lines.Reverse().Select(l => l with { Id = $"other {l.Id}" })] };
            var (one, other) = (rule.Compute(order, known), rule.Compute(renamed, known));
            other.Outcome.ShouldBe(one.Outcome);
            other.Document?.Totals.ShouldBe(one.Document?.Totals);
            var goods = one.Document?.Lines.Where(l => l.Kind == DocumentLineKind.Goods).Select(l => (l.Item, l.Quantity, l.Gross));
            other
                .Document?.Lines.Where(l => l.Kind == DocumentLineKind.Goods)
                .Select(l => (l.Item, l.Quantity, l.Gross))
                .ShouldBe(goods!, ignoreOrder: true);
        }
    }

    [Theory]
    [InlineData(10, new[] { 1, 1, 1 }, new long[] { 4, 3, 3 })]
    [InlineData(-10, new[] { 1, 1, 1 }, new long[] { -3, -3, -4 })]
    [InlineData(5, new[] { 0, 0 }, new long[] { 3, 2 })]
    [InlineData(100, new[] { 1, 2, 4 }, new long[] { 14, 29, 57 })]
    public void Parts_that_are_shared_out_add_up(long amount, int[] weights, long[] parts) =>
        Units.ShareOut(amount, [.. weights.Select(w => (Int128)w)]).ShouldBe(parts);

    [Theory]
    [InlineData("""{"rule":{},"order":{"id":"1","shipTo":{"town":"x"}}}""", "unknown key “town” in order.shipTo")]
    [InlineData("""{"rule":{"zones":[{"contry":"IE"}]},"order":{"id":"1"}}""", "unknown key “contry” in rule.zones[0]")]
    [InlineData("""{"rule":{},"order":{"id":"1","lines":[{"id":"l","quantity":0}]}}""", "must be at least 1")]
    [InlineData("""{"rule":{},"order":{"id":"1","decimals":9}}""", "order.decimals must be from 0 to 6")]
    [InlineData("""{"rule":{}}""", "“order” is missing")]
    public async Task A_bad_line_says_what_is_wrong_with_it(string line, string message)
    {
        using var output = new MemoryStream();
        (await Cli.CaseFile.RunAsync(new MemoryStream(System.Text.Encoding.UTF8.GetBytes(line)), output, Cli.CaseFile.Order)).ShouldBe(1);
        System.Text.Encoding.UTF8.GetString(output.ToArray()).ShouldContain(message);
    }

    // Every line in one to four portions, over as many refunds as that takes.
    private static IEnumerable<OrderRefund> Portions(Order order, Random random)
    {
        var left = order.Lines.ToDictionary(l => l.Id, l => l.Quantity);
        for (var n = 1; left.Values.Any(v => v > 0); n++)
        {
            var lines = new List<RefundedLine>();
            foreach (var (line, quantity) in left.Where(l => l.Value > 0).ToList())
            {
                var part = n >= 4 ? quantity : random.Next(0, quantity + 1);
                left[line] -= part;
                if (part > 0)
                    lines.Add(new RefundedLine(line, part));
            }

            yield return new OrderRefund { Id = $"r{n}", Lines = lines };
        }
    }

    // Orders of all sorts, of which most add up.
    private static IEnumerable<(OrderRule Rule, Order Order, KnownToHub Known)> Orders()
    {
        var random = new Random(2026);
        decimal[] rates = [0, 5, 5.5m, 13.5m, 20];
        for (var n = 0; n < Rounds; n++)
        {
            T Any<T>(params T[] values) => values[random.Next(values.Length)];
            decimal Cents(int most) => random.Next(0, most) / 100m;
            var known = new KnownToHub
            {
                Items = new Dictionary<string, string> { ["A"] = "I1", ["B"] = "I2" },
                Kits = new Dictionary<string, IReadOnlyList<KitComponent>>
                {
                    ["K"] = [new KitComponent("I1", 2, 3.3m), new KitComponent("I2", 1, 9.99m)],
                },
            };
            var rule = new OrderRule
            {
                States = new Dictionary<string, OrderOutcome> { ["new"] = OrderOutcome.Take },
                OtherMethod = "CARD",
                NoAddress = AddressChoice.Take,
                Customer = new CustomerRule { Missing = MissingCustomer.Use, Use = "C" },
                UnknownItem = Any(UnknownItem.Use, UnknownItem.Omit),
                UseItem = "I9",
                Kits = Any(KitChoice.Keep, KitChoice.Split),
                Discounts = Any(DiscountChoice.Line, DiscountChoice.Spread),
                Tolerance = Any(0, 0.02m),
                Tax = new OrderTax
                {
                    Rounding = Any(TaxRounding.Line, TaxRounding.Rate),
                    ShippingRate = Any(ShippingRate.Highest, new ShippingRate(true, null), new ShippingRate(false, 20)),
                    DefaultRate = 20,
                },
            };
            var order = new Order
            {
                Id = $"o{n}",
                Number = $"{n}",
                State = "new",
                TaxIncluded = Any(true, false),
                Payment = new OrderPayment("paid", "card"),
                Lines =
                [
                    .. Enumerable
                        .Range(1, random.Next(1, 5))
                        .Select(i => new OrderLine
                        {
                            Id = $"l{i}",
                            Sku = Any("A", "B", "K", "X"),
                            Quantity = random.Next(1, 8),
                            Price = 1 + Cents(6000),
                            TaxRate = Any<decimal?>(rates[random.Next(rates.Length)], null),
                        }),
                ],
                Shipping = Any<IReadOnlyList<OrderShipping>>([], [new OrderShipping("post", Cents(900))]),
                Discounts = Any<IReadOnlyList<OrderDiscount>>([], [new OrderDiscount("welcome", Cents(95))]),
            };
            // What the document adds up to is what the buyer pays.
            var reckoned = rule.Compute(order, known).Document?.Totals.Gross ?? 0;
            yield return (rule with { OtherShipping = "P" }, order with { Total = reckoned }, known);
        }
    }
}

internal static class All
{
    /// <summary>Every one is so; of none nothing is said.</summary>
    public static void ShouldAllBeSo(this IReadOnlyList<DocumentLine> lines, Func<DocumentLine, bool> so)
    {
        foreach (var line in lines)
            so(line).ShouldBeTrue($"{line}");
    }
}
