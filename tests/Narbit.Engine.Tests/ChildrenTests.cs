using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core.Comparing;
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

    [Fact]
    public async Task A_single_entry_is_an_object_and_entries_within_entries_say_whose_they_are()
    {
        await using var book = await OrderBook.StartAsync(orders: 2);
        book.Orders[0]["to"] = new JsonObject { ["name"] = "Maeve Quarry", ["town"] = "Port Ember" };
        book.Orders[0]["refunds"] = new JsonArray(
            Refund("r1", ("GLZ-CEL-250", 1), ("KLN-SHF-40", 1)),
            Refund("r2", ("GLZ-CEL-250", 1)),
            Refund("r3")
        );
        book.Orders[1]["to"] = null;
        using var adapter = book.Adapter(WithAddressAndRefunds);
        var records = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value.Records;
        records.ShouldAllBe(r => r.Problems.Count == 0);
        records[0].Children["to"].ShouldHaveSingleItem()["town"].ShouldBe("Port Ember");
        records[0]
            .Children["refunded"]
            .Select(l => (l["refund"], l["sku"]))
            .ShouldBe([("r1", "GLZ-CEL-250"), ("r1", "KLN-SHF-40"), ("r2", "GLZ-CEL-250")]);
        records[1].Children["to"].ShouldBeEmpty();
        records[1].Children["refunded"].ShouldBeEmpty();
        adapter.Kinds[0].Fields.Children.Single(c => c.Name == "to").Role.ShouldBe(ListRole.ShipTo);

        // It is written as an object too, and as null where there is none.
        var to = new Dictionary<string, string> { ["name"] = "Ines Marrow", ["town"] = "Kilnhaven" };
        foreach (var entries in new[] { new[] { to }, [] })
        {
            var children = new RecordChildren(
                new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> { ["to"] = entries }
            );
            var write = new RecordWrite("7001", $"key-{entries.Length}", new Dictionary<string, string?>()) { Children = children };
            (await adapter.WriteAsync(RecordKind.Order, [write], default)).Single().Fate.ShouldBe(WriteFate.Accepted);
        }

        var sent = book.Received.Select(r => r["orders"]![0]!["to"]).ToList();
        sent[0]!["town"]!.GetValue<string>().ShouldBe("Kilnhaven");
        sent[1].ShouldBeNull();
    }

    [Fact]
    public async Task Records_are_found_by_what_stands_in_a_field()
    {
        await using var book = await OrderBook.StartAsync(orders: 4);
        using var adapter = book.Adapter(d =>
            d["resources"]![0]!["find"] = JsonNode.Parse("""{ "field": "number", "path": "orders", "parameter": "numbers", "size": 2 }""")
        );
        adapter.Kinds[0].FoundBy.ShouldBe("number");
        var found = await adapter.FindAsync(RecordKind.Order, ["7001", "7003", "7099", "7004"], default);
        found.Value.Select(r => r.Key).ShouldBe(["7001", "7003", "7004"]);

        using var without = book.Adapter();
        without.Kinds[0].FoundBy.ShouldBeNull();
        (await without.FindAsync(RecordKind.Order, ["7001"], default)).Fault!.Code.ShouldBe("noFind");
    }

    [Theory]
    [InlineData("""{ "field": "colour", "path": "orders", "parameter": "n" }""", "resources[0].find.field")]
    [InlineData("""{ "field": "number", "path": "/elsewhere", "parameter": "n" }""", "resources[0].find.path")]
    [InlineData("""{ "field": "number", "path": "orders", "parameter": "n", "size": 0 }""", "resources[0].find.size")]
    public void A_way_to_find_records_that_leads_nowhere_is_refused(string find, string at)
    {
        var description = OrderBook.Description();
        description["resources"]![0]!["find"] = JsonNode.Parse(find);
        RestDocument.Read(description.ToJsonString()).Fault!.Words.ShouldStartWith(at);
    }

    [Fact]
    public void What_is_created_and_never_changed_needs_no_way_to_be_written()
    {
        var description = OrderBook.Description();
        description["resources"]![0]!.AsObject().Remove("write");
        var document = RestDocument.Read(description.ToJsonString());
        document.Fault.ShouldBeNull();
        description["resources"]![0]!.AsObject().Remove("lookup");
        RestDocument.Read(description.ToJsonString()).Fault!.Words.ShouldStartWith("resources[0].lookup");
    }

    private static JsonObject Refund(string id, params (string Sku, int Count)[] lines) =>
        new() { ["id"] = id, ["lines"] = new JsonArray([.. lines.Select(l => OrderBook.Line(l.Sku, l.Count, "1"))]) };

    private static void WithAddressAndRefunds(JsonObject description)
    {
        var children = description["resources"]![0]!["children"]!.AsArray();
        children.Add(
            JsonNode.Parse(
                """
                { "name": "to", "role": "shipTo", "path": "to", "single": true, "writeAs": "to", "fields": [
                  { "name": "name", "path": "name", "type": "text", "role": "title", "writeAs": "name" },
                  { "name": "town", "path": "town", "type": "text", "role": "city", "writeAs": "town" } ] }
                """
            )
        );
        children.Add(
            JsonNode.Parse(
                """
                { "name": "refunded", "role": "refundedLines", "path": "refunds", "each": "lines", "fields": [
                  { "name": "refund", "path": "^id", "type": "text", "role": "refund" },
                  { "name": "sku", "path": "sku", "type": "text", "role": "sku" } ] }
                """
            )
        );
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
        var fault = RestDocument.Read(description.ToJsonString()).Fault!;
        fault.Words.ShouldBe("resources[0].children[1].fields: “way” is described twice.");
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
