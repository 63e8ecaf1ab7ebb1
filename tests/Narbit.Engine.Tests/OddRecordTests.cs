using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Lanes.Stock;

namespace Narbit.Engine.Tests;

/// <summary>One record never stops a lane: whatever breaks over it is its own reason, and the others go on.</summary>
public sealed class OddRecordTests
{
    // The largest amount that there is; whatever is done to it is too much.
    private const decimal Huge = decimal.MaxValue;

    [Fact]
    public async Task An_amount_that_is_too_large_to_compute_with_is_remarked_and_the_rest_is_sent()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        bench.Sandbox.Office.Edit("10002", "Studio", Huge, null, null);
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        await using var db = bench.Database.CreateDbContext();
        var remark = await db.Remarks.SingleAsync(r => r.RunId == run.Id && r.SourceKey == "10002");
        (remark.Why.Code, remark.Why.Words).ShouldBe(("amount.tooLarge", "its amounts are too large to compute with"));
        (await bench.WritesAsync(run.Id)).Count(w => w.State == WriteState.Confirmed).ShouldBeGreaterThan(150);
    }

    [Fact]
    public async Task Two_stock_levels_that_are_too_large_together_are_a_reason()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var lane = await OpenLane.ForAsync(bench.Database, bench.Adapters, Workbench.Stock, default);
        var computation = new StockComputation(new StockDocument(new StockRule()), lane.Value.Sides);
        ItemPair Pair(params StockLevel[] levels) => new(Record("10001", []), Record("1", []), "A", "a") { Levels = levels };

        var fine = computation.Compute(Pair(new StockLevel("Kilnyard", 3, 1, 0)));
        fine.Fields.Single().New.ShouldBe("2");
        var over = computation.Compute(Pair(new StockLevel("Kilnyard", Huge, 0, 0), new StockLevel("Overflow", Huge, 0, 0)));
        (over.Why?.Code, over.Fields.Count).ShouldBe(("amount.tooLarge", 0));
    }

    [Fact]
    public async Task A_key_that_is_no_number_and_an_amount_beyond_the_systems_unit_are_refused_alone()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        var shop = await bench.AdapterAsync("web-shop");
        var known = (await shop.ReadPageAsync(RecordKind.Item, null, null, default)).Value.Records[0].Key;
        RecordWrite Price(string key, string price) => new(key, $"k-{key}", new Dictionary<string, string?> { ["price"] = price });
        var answers = await shop.WriteAsync(
            RecordKind.Item,
            [
                Price("not a number", "1"),
                Price(known, "12.34"),
                Price("999", Huge.ToString(System.Globalization.CultureInfo.InvariantCulture)),
            ],
            default
        );
        answers
            .Select(a => (a.Fate, a.Why?.Code))
            .ShouldBe([(WriteFate.Refused, "write.unwritable"), (WriteFate.Accepted, null), (WriteFate.Refused, "write.unwritable")]);
        bench.PriceCents(known).ShouldBe(1234);
    }

    [Theory]
    [InlineData("2026-13-45T99:00:00Z")]
    [InlineData("99999-01-01T00:00:00Z")]
    [InlineData("01/02/2026")]
    [InlineData("soon")]
    public async Task A_date_that_is_none_is_a_problem_of_its_record(string date)
    {
        await using var book = await OrderBook.StartAsync(orders: 2);
        book.Orders[0]["placed"] = date;
        book.Orders[1]["placed"] = "2026-02-01T10:00:00+01:00";
        using var adapter = book.Adapter(Placed(null));
        var records = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value.Records;
        records[0].Problems.ShouldHaveSingleItem().Message.ShouldContain("a date with time (ISO 8601)");
        records[1].Values["placed"].ShouldBe("2026-02-01T09:00:00Z");
    }

    [Theory]
    [InlineData("dd.MM.yyyy HH:mm", "01.02.2026 10:30", "2026-02-01T10:30:00Z")]
    [InlineData("dd.MM.yyyy HH:mm", "2026-02-01T10:30:00Z", null)]
    public async Task A_date_is_read_in_the_format_that_the_description_names(string format, string date, string? instant)
    {
        await using var book = await OrderBook.StartAsync(orders: 1);
        book.Orders[0]["placed"] = date;
        using var adapter = book.Adapter(Placed(format));
        var record = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value.Records.Single();
        record.Values.GetValueOrDefault("placed").ShouldBe(instant);
        record.Problems.Count.ShouldBe(instant is null ? 1 : 0);
    }

    private static Action<JsonObject> Placed(string? format) =>
        description =>
            description["resources"]![0]!["fields"]!
                .AsArray()
                .Add(
                    new JsonObject
                    {
                        ["name"] = "placed",
                        ["label"] = "Placed",
                        ["path"] = "placed",
                        ["type"] = "instant",
                        ["format"] = format,
                    }
                );

    private static SideRecord Record(string key, Dictionary<string, string> values) => new(key, values, []);
}
