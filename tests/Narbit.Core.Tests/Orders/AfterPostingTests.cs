using Narbit.Core.Orders;

namespace Narbit.Core.Tests.Orders;

/// <summary>What becomes of a document whose order changes afterwards.</summary>
public sealed class AfterPostingTests
{
    private static readonly AfterPostingRule Changes = new()
    {
        Goods = AfterPosting.Change,
        Address = AfterPosting.Replace,
        Payment = AfterPosting.Apart,
        Cancelled = AfterPosting.TakeOut,
        While = ["open"],
    };

    [Theory]
    [InlineData(OrderPart.Goods, "editedGoods")]
    [InlineData(OrderPart.Address, "editedAddress")]
    [InlineData(OrderPart.Payment, "editedPayment")]
    [InlineData(OrderPart.Cancelled, "cancelledLater")]
    public void Unless_told_otherwise_a_person_decides(OrderPart part, string cause) =>
        Judged(new AfterPostingRule(), part).ShouldBe(("", cause));

    [Theory]
    [InlineData(OrderPart.Goods, "Change")]
    [InlineData(OrderPart.Address, "Replace")]
    [InlineData(OrderPart.Payment, "Apart")]
    [InlineData(OrderPart.Cancelled, "TakeOut")]
    public void Each_part_has_its_own_way(OrderPart part, string act) => Judged(Changes, part).ShouldBe((act, null));

    [Fact]
    public void A_new_document_brings_everything_else_with_it()
    {
        Judged(Changes, OrderPart.Goods, OrderPart.Address, OrderPart.Payment).ShouldBe(("Replace", null));
        Judged(Changes, OrderPart.Goods, OrderPart.Payment).ShouldBe(("Change Apart", null));
    }

    [Fact]
    public void A_document_that_is_too_far_on_is_not_touched_but_a_payment_beside_it_is_registered()
    {
        var facts = new AfterPostingFacts([OrderPart.Goods], false, false, "shipped");
        Changes.Judge(facts).Cause.ShouldBe("tooLate");
        (Changes with { While = [] }).Judge(facts).Acts.ShouldBe([AfterPosting.Change]);
        Changes.Judge(facts with { Changed = [OrderPart.Payment] }).Acts.ShouldBe([AfterPosting.Apart]);
    }

    [Theory]
    [InlineData("open", "Replace", null)]
    [InlineData("shipped", "", "tooLate")]
    public void A_document_is_made_anew_while_it_may_be_touched(string state, string acts, string? cause)
    {
        var verdict = Changes.Anew(state);
        (string.Join(' ', verdict.Acts), verdict.Cause).ShouldBe((acts, cause));
    }

    [Fact]
    public void Two_that_are_alike_need_nothing_and_two_that_both_changed_need_a_person()
    {
        var facts = new AfterPostingFacts([OrderPart.Goods], HubChanged: true, Alike: false, "open");
        static (int, string?) Needs(AfterPostingFacts about) => (Changes.Judge(about).Acts.Count, Changes.Judge(about).Cause);
        Changes.Judge(facts).Cause.ShouldBe("changedOnBoth");
        Needs(facts with { Alike = true }).ShouldBe((0, null));
        Changes.Judge(facts with { Changed = [] }).Cause.ShouldBeNull();
        // Whether it is wanted at all, only the store says.
        Changes.Judge(facts with { Changed = [OrderPart.Cancelled] }).Acts.ShouldBe([AfterPosting.TakeOut]);
        // A person has decided.
        Needs(facts with { Decided = AfterPosting.Leave }).ShouldBe((0, null));
        new AfterPostingRule().Judge(facts with { Decided = AfterPosting.Change }).Acts.ShouldBe([AfterPosting.Change]);
    }

    [Fact]
    public void Only_what_means_something_can_be_chosen()
    {
        Changes.Check().ShouldBeEmpty();
        (Changes with { Goods = AfterPosting.Apart, Cancelled = AfterPosting.Change })
            .Check()
            .Select(f => (f.Path, f.Severity))
            .ShouldBe([("after.goods", Severity.Refuse), ("after.cancelled", Severity.Refuse)]);
    }

    [Fact]
    public void A_mark_changes_with_its_part_and_with_no_other()
    {
        var order = new Order
        {
            Id = "1",
            Lines =
            [
                new OrderLine
                {
                    Id = "a",
                    Sku = "X",
                    Quantity = 2,
                    Price = 3,
                },
            ],
            Payment = new OrderPayment("pending", "card"),
            BillTo = new OrderAddress
            {
                Street = "1 Slip Row",
                City = "Kilnhaven",
                Country = "IE",
            },
            Total = 6,
        };
        IReadOnlyDictionary<string, string> line = new Dictionary<string, string> { ["item"] = "10001", ["quantity"] = "2" };
        var then = OrderMarks.Of(
            order,
            [
                [line],
            ]
        );
        IReadOnlyList<OrderPart> Since(Order changed) =>
            OrderMarks
                .Of(
                    changed,
                    [
                        [line],
                    ]
                )
                .ChangedSince(then);
        Since(order).ShouldBeEmpty();
        OrderMarks.Read(then.ToString()).ShouldBe(then);
        OrderMarks.Read("half").ShouldBeNull();
        Since(order with { Lines = [order.Lines[0] with { Quantity = 3 }] }).ShouldBe([OrderPart.Goods]);
        Since(order with { Total = 7 }).ShouldBe([OrderPart.Goods]);
        Since(order with { Shipping = [new OrderShipping("standard", 5)] }).ShouldBe([OrderPart.Goods]);
        Since(order with { BillTo = order.BillTo with { City = "Port Ember" } }).ShouldBe([OrderPart.Address]);
        // The same address in another place is the same.
        Since(order with { ShipTo = order.BillTo }).ShouldBeEmpty();
        Since(order with { Payment = new OrderPayment("paid", "card") }).ShouldBe([OrderPart.Payment]);
        Since(order with { State = "done", Number = "W1" }).ShouldBeEmpty();
        OrderMarks
            .Of(
                order,
                [
                    [line],
                    [],
                ]
            )
            .Hub.ShouldNotBe(then.Hub);
    }

    private static (string Acts, string? Cause) Judged(AfterPostingRule rule, params OrderPart[] changed)
    {
        var verdict = rule.Judge(new AfterPostingFacts(changed, false, false, "open"));
        return (string.Join(' ', verdict.Acts), verdict.Cause);
    }
}
