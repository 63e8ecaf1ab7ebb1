using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data.Orders;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Customers;
using Narbit.Engine.Lanes.Orders;

namespace Narbit.Engine.Tests;

/// <summary>Customers from one system to another, either way, and buyers that are the same person.</summary>
public sealed class CustomerLaneTests
{
    [Fact]
    public async Task Customers_of_the_hub_reach_the_portal_with_their_price_group()
    {
        await using var bench = await Workbench.OpenAsync(items: 30);
        await PairedAsync(bench);
        var lane = await LaneAsync(bench, "back-office", "trade-portal");
        var map = await bench.SuggestedAsync(lane);
        map.Fields.Select(f => f.Target).ShouldContain("email");
        await bench.SetRuleAsync(lane, new CustomerDocument(WithGroups(map) with { Publish = new PublishRule { New = NewRecords.All } }));
        var book = bench.Sandbox.Orders.Book;
        var known = book.Customers.First(c => bench.Sandbox.Accounts.All.Any(a => a.Number == c.Number));
        book.Change(known.Number, c => c with { PriceGroup = "School" }, [], null).ShouldBeNull();
        var missing = book.Customers.Count(c =>
            c.Email.Length > 0 && !bench.Sandbox.Accounts.All.Any(a => string.Equals(a.Mail, c.Email, StringComparison.OrdinalIgnoreCase))
        );
        missing.ShouldBeGreaterThan(0);
        var accounts = bench.Sandbox.Accounts.All.Count;

        var run = await DoneAsync(bench, lane);
        bench.Sandbox.Accounts.All.Single(a => a.Number == known.Number).Group.ShouldBe("schools");
        var made = (await bench.WritesAsync(run.Id)).Where(w => w.Act == WriteAct.Create).ToList();
        made.Count.ShouldBe(bench.Sandbox.Accounts.All.Count - accounts);
        made.Count.ShouldBeGreaterThan(0);

        // What was made is paired, and a group without an entry holds its customer alone.
        book.Change(known.Number, c => c with { PriceGroup = "Wholesale" }, [], null).ShouldBeNull();
        var again = await DoneAsync(bench, lane);
        (await bench.WritesAsync(again.Id)).ShouldNotContain(w => w.Act == WriteAct.Create);
        (await bench.SaidAsync(again)).ShouldContain("Wholesale");
        bench.Sandbox.Accounts.All.Single(a => a.Number == known.Number).Group.ShouldBe("schools");
    }

    [Fact]
    public async Task Of_the_portal_s_accounts_only_those_that_bought_become_customers()
    {
        await using var bench = await Workbench.OpenAsync();
        await PairedAsync(bench);
        var lane = await LaneAsync(bench, "trade-portal", "back-office");
        var map = new FieldMap
        {
            Fields =
            [
                .. new[] { "name", "company", "email", "phone", "postcode" }.Select(f => new FieldMapping
                {
                    Target = f,
                    Source = new MapSource([f]),
                }),
            ],
            Publish = new PublishRule { New = NewRecords.All },
        };
        await bench.SetRuleAsync(lane, new CustomerDocument(map) { Taken = CustomersTaken.Buyers });
        var preview = await bench.RunAsync(lane, preview: true);
        var buyers = (await bench.WritesAsync(preview.Id)).Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).ToHashSet();
        await bench.SetRuleAsync(lane, new CustomerDocument(map));
        preview = await bench.RunAsync(lane, preview: true);
        var all = (await bench.WritesAsync(preview.Id)).Where(w => w.Act == WriteAct.Create).Select(w => w.SourceKey).ToHashSet();
        var mails = bench.Sandbox.Orders.Portal.All.Select(o => o.Email).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var accounts = bench.Sandbox.Accounts.All.ToDictionary(a => a.Id);
        buyers.ShouldNotBeEmpty();
        buyers.ShouldAllBe(key => mails.Contains(accounts[key].Mail));
        buyers.ShouldBe(all.Where(key => mails.Contains(accounts[key].Mail)), ignoreOrder: true);
        all.Count.ShouldBeGreaterThan(buyers.Count);
    }

    [Fact]
    public async Task Two_customers_of_one_address_are_one_once_somebody_has_said_so()
    {
        await using var bench = await Workbench.OpenAsync();
        var lane = await OrderLaneTests.LaneAsync(bench);
        await bench.RunAsync(lane, preview: true);
        List<OrderStanding> held;
        await using (var db = bench.Database.CreateDbContext())
            held = await db.OrderStandings.Where(o => o.Causes.Any(c => c.Code == "customerAmbiguous")).ToListAsync();
        held.Count.ShouldBeGreaterThanOrEqualTo(2);
        var twins = bench.Sandbox.Orders.Book.Customers.Where(c => c.Email == held[0].Email).Select(c => c.Number).ToList();
        twins.Count.ShouldBe(2);

        var desk = new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System);
        var same = new OrderChoice(OrderChoiceKind.SameCustomer, twins[1], twins[0]);
        (await desk.DecideAsync(lane, null, same, "Tester", default)).Value.ShouldBe(held.Count);
        var self = new OrderChoice(OrderChoiceKind.SameCustomer, twins[0], twins[0]);
        (await desk.DecideAsync(lane, null, self, "Tester", default)).Fault!.Code.ShouldBe("choice.itself");
        await DoneAsync(bench, lane);
        foreach (var order in held)
            bench.Sandbox.Orders.Book.Documents.Single(d => d.ExternalNumber == order.Number).Customer.ShouldBe(twins[0]);
    }

    private static FieldMap WithGroups(FieldMap map)
    {
        var group = new FieldMapping
        {
            Target = "group",
            Source = new MapSource(["priceGroup"]),
            Steps = [new MapStep("crosswalk", new Dictionary<string, string> { ["table"] = "groups" })],
        };
        return map with
        {
            Fields = [.. map.Fields.Where(f => f.Target != "group"), group],
            Crosswalks =
            [
                .. map.Crosswalks,
                new Crosswalk
                {
                    Name = "groups",
                    Entries = [new CrosswalkEntry("School", "schools"), new CrosswalkEntry("Counter", "counter")],
                },
            ],
        };
    }

    private static async Task PairedAsync(Workbench bench)
    {
        await bench.AddStoreAsync("trade-portal");
        await using (var db = bench.Database.CreateDbContext())
            await db.Couples.Where(c => c.OtherId == "trade-portal").ExecuteUpdateAsync(s => s.SetProperty(c => c.AcceptsCertain, true));
        var couple = (await bench.Desk.EnsureAllAsync(default)).Single(c => c.OtherId == "trade-portal" && c.Kind == RecordKind.Customer);
        (await bench.Desk.PairAsync(couple.Id, read: false, default)).Fault.ShouldBeNull();
    }

    private static async Task<string> LaneAsync(Workbench bench, string source, string target)
    {
        var maker = new LaneMaker(bench.Database, bench.Adapters, TimeProvider.System);
        var lane = await maker.MakeAsync("customer", source, target, "Tester", default);
        lane.Fault.ShouldBeNull();
        return lane.Value;
    }

    private static async Task<Run> DoneAsync(Workbench bench, string lane)
    {
        var run = await bench.RunAsync(lane, preview: false);
        run.State.ShouldBe(RunState.Done, await bench.SaidAsync(run));
        return run;
    }
}
