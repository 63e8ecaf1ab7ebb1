using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>What a person decides about a held order gets it past just that cause.</summary>
public sealed class OrderChoiceTests
{
    private static readonly OrderRule Rule = new()
    {
        States = new Dictionary<string, OrderOutcome> { ["open"] = OrderOutcome.Take },
        Methods = new Dictionary<string, string> { ["card"] = "card" },
        ShippingMethods = new Dictionary<string, string> { ["post"] = "P" },
        Zones = [new ShippingZone { Country = "IE", Except = ["IS"] }],
    };

    private static readonly Order Good = new()
    {
        Id = "1",
        Number = "W1",
        State = "open",
        Currency = "EUR",
        TaxIncluded = true,
        Payment = new OrderPayment("paid", "card"),
        Email = "maeve@lanternmoor.example",
        BillTo = new OrderAddress
        {
            Name = "Maeve Quarry",
            Street = "4 Slip Row",
            City = "Port Ember",
            Postcode = "LM3 A1BC",
            Country = "IE",
        },
        Lines =
        [
            new OrderLine
            {
                Id = "1",
                Sku = "CLY-1",
                Quantity = 2,
                Price = 12,
                TaxRate = 20,
            },
        ],
        Shipping = [new OrderShipping("post", 6)],
        Total = 30,
    };

    private static readonly KnownToHub Known = new()
    {
        Items = new Dictionary<string, string> { ["CLY-1"] = "10001" },
        Customers =
        [
            new KnownCustomer { Key = "C1", Email = "maeve@lanternmoor.example" },
            new KnownCustomer { Key = "C2", Email = "twice@lanternmoor.example" },
            new KnownCustomer { Key = "C3", Email = "TWICE@lanternmoor.example" },
        ],
    };

    [Fact]
    public void Nothing_needs_to_be_decided_about_an_order_in_order() => Judged(Good).Outcome.ShouldBe(OrderOutcome.Take);

    public static TheoryData<string, Order, OrderChoice> Held =>
        new()
        {
            {
                "unknownItem",
                Good with
                {
                    Lines = [Good.Lines[0] with { Sku = "OLD-1" }],
                },
                new OrderChoice(OrderChoiceKind.Item, "OLD-1", "10002")
            },
            {
                "customerAmbiguous",
                Good with
                {
                    Email = "twice@lanternmoor.example",
                },
                new OrderChoice(OrderChoiceKind.Customer, null, "C3")
            },
            { "totals", Good with { Total = 30.01m }, new OrderChoice(OrderChoiceKind.Difference, null, null) },
            {
                "outsideZone",
                Good with
                {
                    BillTo = Good.BillTo! with { Postcode = "IS4 T0WN" },
                },
                new OrderChoice(OrderChoiceKind.Address, null, null)
            },
            { "noAddress", Good with { BillTo = Good.BillTo! with { Street = "" } }, new OrderChoice(OrderChoiceKind.Address, null, null) },
            { "state", Good with { State = "on the way" }, new OrderChoice(OrderChoiceKind.Anyway, null, null) },
            { "payment", Good with { Payment = new OrderPayment("pending", "card") }, new OrderChoice(OrderChoiceKind.Anyway, null, null) },
            {
                "paymentMethod",
                Good with
                {
                    Payment = new OrderPayment("paid", "pigeon post"),
                },
                new OrderChoice(OrderChoiceKind.PaymentMethod, "pigeon post", "transfer")
            },
            {
                "shippingMethod",
                Good with
                {
                    Shipping = [new OrderShipping("balloon", 6)],
                },
                new OrderChoice(OrderChoiceKind.ShippingMethod, "balloon", "AIR")
            },
            {
                "taxRate",
                Good with
                {
                    Lines = [Good.Lines[0] with { TaxRate = null }],
                    Total = 30,
                },
                new OrderChoice(OrderChoiceKind.TaxRate, null, "20")
            },
        };

    [Theory]
    [MemberData(nameof(Held))]
    public void A_decision_gets_an_order_past_its_cause(string cause, Order order, OrderChoice choice)
    {
        Judged(order).Causes.ShouldContain(c => c.Code == cause);
        var decided = Judged(order, choice);
        decided.Causes.ShouldBeEmpty();
        decided.Outcome.ShouldBe(OrderOutcome.Take);
        // Whatever was decided, it adds up to what the buyer pays.
        decided.Document!.Totals.Gross.ShouldBe(order.Total);
    }

    [Fact]
    public void A_decision_about_one_SKU_says_nothing_of_another()
    {
        var order = Good with { Lines = [Good.Lines[0] with { Sku = "OLD-2" }] };
        Judged(order, new OrderChoice(OrderChoiceKind.Item, "OLD-1", "10002")).Causes.ShouldContain(c => c.Code == "unknownItem");
    }

    [Fact]
    public void What_is_chosen_is_what_the_document_has()
    {
        var order = Good with { Lines = [Good.Lines[0] with { Sku = "OLD-1" }], Email = "twice@lanternmoor.example" };
        var decided = Judged(
            order,
            new OrderChoice(OrderChoiceKind.Item, "OLD-1", "10002"),
            new OrderChoice(OrderChoiceKind.Customer, null, "C3")
        );
        decided.Document!.Lines[0].Item.ShouldBe("10002");
        decided.Document.Customer!.Key.ShouldBe("C3");
    }

    [Theory]
    [InlineData(OrderChoiceKind.Customer)]
    [InlineData(OrderChoiceKind.PaymentMethod)]
    [InlineData(OrderChoiceKind.ShippingMethod)]
    [InlineData(OrderChoiceKind.TaxRate)]
    [InlineData(OrderChoiceKind.Item)]
    public void A_choice_without_a_value_changes_nothing(OrderChoiceKind kind)
    {
        var choice = new OrderChoice(kind, null, null);
        Rule.Applied([choice], Good).ShouldBe(Rule);
        Known.Applied([choice]).ShouldBeSameAs(Known);
    }

    [Fact]
    public void Every_cause_is_told_in_words_with_its_line_or_amount()
    {
        var line = new OrderCause("taxRate", OrderOutcome.Hold) { Line = "1" };
        CauseOfOrder.Of(line, Good).Words.ShouldBe("a line of it has no tax rate (CLY-1, line 1)");
        CauseOfOrder
            .Of(new OrderCause("unknownItem", OrderOutcome.Hold) { Line = "1" }, Good)
            .Words.ShouldBe("CLY-1 is not known at the hub (line 1)");
        CauseOfOrder
            .Of(new OrderCause("totals", OrderOutcome.Hold) { By = -0.01m }, Good)
            .Words.ShouldBe("its lines do not add up to its total (by -0.01 EUR)");
        var twice = new CauseOfOrder("numberTwice", OrderOutcome.Hold)
        {
            Values = CauseOfOrder.Known((OrderWords.Other, "S-2"), (OrderWords.Number, "10001")),
        };
        twice.Words.ShouldBe("order S-2 of the store has the number 10001 too");
        CauseOfOrder.Of("noPlace", new Reason("x", "there is no place for it")).Words.ShouldBe("there is no place for it");
        OrderWords.Heading("payment").ShouldBe("It is not paid");
        OrderWords.Heading("somethingNew").ShouldBe("SomethingNew");
    }

    private static OrderResult Judged(Order order, params OrderChoice[] choices) =>
        Rule.Applied(choices, order).Compute(order, Known.Applied(choices));
}
