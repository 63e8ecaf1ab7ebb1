using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core.Records;

namespace Narbit.Engine.Tests;

/// <summary>Records with lists in them: an order and its lines are one document.</summary>
public sealed class ChildrenTests
{
    [Fact]
    public async Task A_record_is_read_with_its_children_and_another_kind_out_of_the_same_list()
    {
        await using var book = await OrderBook.StartAsync(orders: 3);
        using var adapter = book.Adapter();
        var first = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value;
        first.Records.Select(r => r.Key).ShouldBe(["7001", "7002"]);
        var order = first.Records[0];
        order.Children["lines"].Count.ShouldBe(2);
        order.Children["lines"][0]["sku"].ShouldBe("GLZ-CEL-250");
        order.Children["lines"][0]["price"].ShouldBe("10.5");
        order.Children["lines"][1]["order"].ShouldBe("7001");
        order.Children["payments"].Single()["amount"].ShouldBe("69");
        order.Problems.ShouldBeEmpty();
        first.Beside[RecordKind.Customer].Select(c => c.Key).ShouldBe(["odd", "even"]);

        var last = (await adapter.ReadPageAsync(RecordKind.Order, first.Next, null, default)).Value;
        (last.Records.Single().Key, last.Next).ShouldBe(("7003", null));
        (await adapter.TestAsync(default)).Message.ShouldContain("customers: 2 read");
    }

    [Fact]
    public async Task The_mirror_keeps_children_with_their_record_and_sees_when_one_of_them_changes()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var book = await OrderBook.StartAsync(orders: 5);
        var id = await book.AddToAsync(bench);
        var reads = (await bench.Reader.ReadSystemAsync(id, full: true, default)).Value;
        reads.ShouldHaveSingleItem().Changed.ShouldBe(5);
        var before = await KeptAsync(bench, id, "7002");
        before.Children["lines"].Select(l => l["sku"]).ShouldBe(["GLZ-CEL-250", "KLN-SHF-40"]);
        JsonNode.Parse(before.Raw)!["lines"]!.AsArray().Count.ShouldBe(2);
        await using (var db = bench.Database.CreateDbContext())
            (await db.Records.CountAsync(r => r.SystemId == id && r.Kind == RecordKind.Customer)).ShouldBe(2);

        // Nothing has changed, so nothing is written.
        (await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default)).Value.Changed.ShouldBe(0);
        book.Orders[1]["lines"]![1]!["count"] = 4;
        (await bench.Reader.ReadAsync(id, RecordKind.Customer, full: true, default)).Value.Changed.ShouldBe(
            1,
            "customers are read with the orders' list"
        );
        var after = await KeptAsync(bench, id, "7002");
        after.Children["lines"][1]["count"].ShouldBe("4");
        after.Hash.ShouldNotBe(before.Hash);

        // A customer is not gone because no order names him any more.
        book.Orders.RemoveAll(o => o["customer"]!["id"]!.GetValue<string>() == "even");
        (await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default)).Value.Gone.ShouldBe(2);
        await using (var db = bench.Database.CreateDbContext())
            (await db.Records.CountAsync(r => r.SystemId == id && r.Kind == RecordKind.Customer && r.GoneAt == null)).ShouldBe(2);
    }

    [Fact]
    public async Task What_is_wrong_with_an_entry_is_said_with_its_place_and_stops_nothing()
    {
        await using var book = await OrderBook.StartAsync(orders: 2);
        book.Orders[0]["lines"]![1]!["count"] = "many";
        book.Orders[1]["payments"] = "cash";
        using var adapter = book.Adapter();
        var records = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value.Records;
        var line = records[0].Problems.ShouldHaveSingleItem();
        (line.Field, line.Message).ShouldBe(("lines[1].count", line.Message));
        line.Message.ShouldStartWith("lines, entry 2:");
        records[0].Children["lines"].Count.ShouldBe(2);
        records[1].Problems.ShouldHaveSingleItem().Message.ShouldBe("payments is no list");
    }

    [Fact]
    public async Task A_document_is_written_with_its_children_as_a_whole_under_one_key()
    {
        await using var book = await OrderBook.StartAsync(orders: 1);
        using var adapter = book.Adapter();
        var lines = Lines(("GLZ-CEL-250", "3", "10.5"), ("CLY-STN-10", "1", "12"));
        var answer = await adapter.WriteAsync(
            RecordKind.Order,
            [new RecordWrite("7001", "key-1", new Dictionary<string, string?> { ["note"] = "three" }) { Children = lines }],
            default
        );
        answer.ShouldHaveSingleItem().Fate.ShouldBe(WriteFate.Accepted);
        var sent = book.Received.ShouldHaveSingleItem()["orders"]!.AsArray().ShouldHaveSingleItem()!;
        sent["once"]!.GetValue<string>().ShouldBe("key-1");
        sent["lines"]!.AsArray().Count.ShouldBe(2);
        // What the system itself adds to an entry is read, not written.
        sent["lines"]![0]!.AsObject().ContainsKey("order").ShouldBeFalse();
        sent.AsObject().ContainsKey("payments").ShouldBeFalse();

        var held = (await adapter.LookUpAsync(RecordKind.Order, ["7001"], default)).Value.Single();
        held.Values["note"].ShouldBe("three");
        lines.SameAs(held.Children, adapter.Kinds[0].Fields.Children).ShouldBeTrue();
        Lines(("GLZ-CEL-250", "3", "10.5")).SameAs(held.Children, adapter.Kinds[0].Fields.Children).ShouldBeFalse();
    }

    [Fact]
    public async Task A_document_is_created_with_its_children_and_never_twice()
    {
        await using var book = await OrderBook.StartAsync(orders: 1);
        using var adapter = book.Adapter();
        var order = new RecordWrite("new", "key-9", new Dictionary<string, string?> { ["note"] = "by hand" })
        {
            Act = WriteAct.Create,
            Children = Lines(("CLY-STN-10", "6", "12")),
        };
        var made = (await adapter.WriteAsync(RecordKind.Order, [order], default)).Single();
        var again = (await adapter.WriteAsync(RecordKind.Order, [order], default)).Single();
        (made.Fate, again.NewKey).ShouldBe((WriteFate.Accepted, made.NewKey));
        book.Orders.Count.ShouldBe(2);
        (await adapter.LookUpAsync(RecordKind.Order, [made.NewKey!], default))
            .Value.Single()
            .Children["lines"]
            .Single()["count"]
            .ShouldBe("6");
    }

    [Theory]
    [InlineData("""{ "with": "stockLevel" }""", "resources[1].list.with")]
    [InlineData("""{ "with": "order", "path": "customers" }""", "resources[1].list.with")]
    [InlineData("""{ "records": "customers" }""", "resources[1].list")]
    public void A_list_that_is_read_with_no_other_is_refused(string list, string at)
    {
        var description = OrderBook.Description();
        description["resources"]![1]!["list"] = JsonNode.Parse(list);
        RestDocument.Read(description.ToJsonString()).Fault!.Words.ShouldStartWith(at);
    }

    [Fact]
    public void Children_and_their_fields_have_names_of_their_own()
    {
        var description = OrderBook.Description();
        var children = description["resources"]![0]!["children"]!.AsArray();
        children[1]!["name"] = "lines";
        RestDocument.Read(description.ToJsonString()).Fault!.Words.ShouldBe("resources[0].children: “lines” is described twice.");
        children[1]!["name"] = "payments";
        children[1]!["fields"]![1]!["name"] = "way";
        RestDocument.Read(description.ToJsonString()).Fault!.Words.ShouldBe("resources[0].children[1].fields: “way” is described twice.");
    }

    private static RecordChildren Lines(params (string Sku, string Count, string Price)[] lines) =>
        new(
            new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>>
            {
                ["lines"] =
                [
                    .. lines.Select(l => new Dictionary<string, string>
                    {
                        ["sku"] = l.Sku,
                        ["count"] = l.Count,
                        ["price"] = l.Price,
                    }),
                ],
            }
        );

    private static async Task<(byte[] Hash, string Raw, RecordChildren Children)> KeptAsync(Workbench bench, string system, string key)
    {
        await using var db = bench.Database.CreateDbContext();
        var kept = await db.Records.AsNoTracking().FirstAsync(r => r.SystemId == system && r.Kind == RecordKind.Order && r.Key == key);
        return (kept.Hash, kept.Raw, RecordChildren.Read(kept.Children));
    }
}
