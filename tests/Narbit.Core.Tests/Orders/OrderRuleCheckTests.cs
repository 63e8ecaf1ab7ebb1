using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>What is said of an order rule before it is saved.</summary>
public sealed class OrderRuleCheckTests
{
    private static readonly OrderRule Sound = new()
    {
        CutOff = new DateTimeOffset(2026, 10, 1, 0, 0, 0, TimeSpan.Zero),
        States = new Dictionary<string, OrderOutcome> { ["paid"] = OrderOutcome.Take },
    };

    [Fact]
    public void A_sound_rule_is_not_spoken_of() => OrderRuleCheck.Check(Sound).ShouldBeEmpty();

    public static TheoryData<string, OrderRule> Refused =>
        new()
        {
            { "zones[0].country", Sound with { Zones = [new ShippingZone { Country = "Ireland" }] } },
            { "placeholder", Sound with { OutsideZone = AddressChoice.Placeholder } },
            {
                "placeholder",
                Sound with
                {
                    NoAddress = AddressChoice.Placeholder,
                    Placeholder = new OrderAddress { Street = " " },
                }
            },
            { "customer.match", Sound with { Customer = new CustomerRule { Match = [] } } },
            { "customer.use", Sound with { Customer = new CustomerRule { Missing = MissingCustomer.Use } } },
            { "useItem", Sound with { UnknownItem = UnknownItem.Use } },
            { "tax.defaultRate", Sound with { Tax = new OrderTax { DefaultRate = 120 } } },
            { "tax.defaultRate", Sound with { Tax = new OrderTax { DefaultRate = -1 } } },
            { "tax.shippingRate", Sound with { Tax = new OrderTax { ShippingRate = new ShippingRate(Spread: false, Fixed: 101) } } },
            { "tolerance", Sound with { Tolerance = -0.01m } },
            { "differenceUpTo", Sound with { DifferenceUpTo = -1 } },
            { "number", Sound with { Number = "WEB" } },
        };

    [Theory]
    [MemberData(nameof(Refused))]
    public void What_would_do_harm_is_refused_at_its_place(string path, OrderRule rule) =>
        OrderRuleCheck.Check(rule).ShouldContain(f => f.Path == path && f.Severity == Severity.Refuse && f.Message.Length > 20);

    public static TheoryData<string, OrderRule> Warned =>
        new()
        {
            { "cutOff", Sound with { CutOff = null } },
            { "states", Sound with { States = new Dictionary<string, OrderOutcome>() } },
            { "unknownItem", Sound with { UnknownItem = UnknownItem.Use, UseItem = "10001" } },
            { "unknownItem", Sound with { UnknownItem = UnknownItem.Omit } },
            { "tolerance", Sound with { Tolerance = 0.02m } },
        };

    [Theory]
    [MemberData(nameof(Warned))]
    public void What_may_surprise_is_said_and_can_be_saved(string path, OrderRule rule)
    {
        var faults = OrderRuleCheck.Check(rule);
        faults.ShouldContain(f => f.Path == path && f.Severity == Severity.Warn);
        faults.ShouldAllBe(f => f.Severity == Severity.Warn);
    }

    [Theory]
    [InlineData("{number}")]
    [InlineData("WEB-{id}")]
    public void A_number_that_tells_orders_apart_is_taken(string number) =>
        OrderRuleCheck.Check(Sound with { Number = number }).ShouldBeEmpty();
}
