using System.Text.Json.Nodes;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Unknown;

namespace Narbit.Engine.Tests;

/// <summary>Lists at paths of their own, what changed last first, entity tags, and changes that are made later.</summary>
public sealed class SlipwayTests
{
    private const string Office = """
        { "format": "narbit/rest-system/1", "name": "Slipway Office", "kind": "erp", "mark": "SO", "currency": "EUR", "address": "http://x",
          "limits": { "requestsPerSecond": 1000, "attempts": 1 },
          "errorPaths": ["problem"],
          "resources": [ { "kind": "order", "label": "jobs", "key": "no",
            "list": { "path": "jobs", "records": "jobs", "paging": "page", "pageParameter": "page", "size": 5, "totalPath": "count",
              "newestFirst": { "path": "touched", "parameter": "order", "value": "-touched" } },
            "lookup": { "path": "jobs/{key}", "records": "" },
            "write": { "path": "jobs/{key}", "method": "PATCH", "ifMatch": true, "later": { "withinSeconds": 5 } },
            "fields": [ { "name": "for", "path": "for", "writeAs": "for" },
                        { "name": "total", "path": "total", "type": "money", "writeAs": "total" } ],
            "children": [ { "name": "lines", "path": "lines", "role": "lines",
              "list": { "path": "jobs/{key}/lines", "records": "", "paging": "link" },
              "fields": [ { "name": "sku", "path": "code", "role": "sku" }, { "name": "of", "path": "^for" },
                          { "name": "pieces", "path": "pcs", "type": "integer", "role": "quantity" } ] } ] } ] }
        """;

    [Fact]
    public async Task Lines_that_stand_elsewhere_come_with_their_records_page_after_page()
    {
        await using var office = await StartedAsync();
        using var adapter = Of(office);
        var page = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value;
        page.Records.Select(r => r.Children["lines"].Count).ShouldBe([1, 2, 3, 0, 1]);
        page.Records[2].Children["lines"].Select(l => l["sku"]).ShouldBe(["J3-0", "J3-1", "J3-2"]);
        page.Records[2]
            .Children["lines"][2]
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["sku"] = "J3-2",
                    ["of"] = "Moor Pottery",
                    ["pieces"] = "3",
                }
            );
        var one = (await adapter.LookUpAsync(RecordKind.Order, ["J3"], default)).Value.Single();
        one.Children["lines"].Count.ShouldBe(3);
        one.Raw.ToArray().ShouldBe(page.Records[2].Raw.ToArray(), "a look-up tells no change where there is none");
    }

    [Fact]
    public async Task A_record_whose_lines_cannot_be_read_is_not_taken_without_them()
    {
        await using var office = await StartedAsync();
        var document = JsonNode.Parse(Office)!;
        document["resources"]![0]!["children"]![0]!["list"]!["records"] = "none";
        using var adapter = Of(office, document);
        (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Fault!.Words.ShouldBe(
            "Slipway Office answered for jobs J1, but without the list “none” that its description names for lines."
        );
    }

    [Fact]
    public async Task What_changed_last_is_read_until_an_entry_is_older()
    {
        await using var office = await StartedAsync();
        using var adapter = Of(office);
        adapter.ReadsChanges(RecordKind.Order).ShouldBeTrue();
        var since = SlipwayOffice.Begin.AddMinutes(17.5);
        var first = (await adapter.ReadPageAsync(RecordKind.Order, null, since, default)).Value;
        first.Records.Select(r => r.Key).ShouldBe(["J23", "J22", "J21", "J20", "J19"]);
        (first.Next, first.Total).ShouldBe(("2", null));
        var second = (await adapter.ReadPageAsync(RecordKind.Order, first.Next, since, default)).Value;
        (second.Records[0].Key, second.Next).ShouldBe(("J18", null));
        office.Jobs[^1]["touched"] = "just now";
        (await adapter.ReadPageAsync(RecordKind.Order, null, since, default)).Value.Next.ShouldBe("2", "what cannot be read stops nothing");
    }

    [Fact]
    public async Task What_the_system_says_is_unchanged_is_not_sent_again()
    {
        await using var office = await StartedAsync();
        using var adapter = Of(office);
        var first = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value;
        var told = office.Told;
        office.Jobs[1]["total"] = 99;
        var again = (await adapter.ReadPageAsync(RecordKind.Order, null, null, default)).Value;
        office.Told.ShouldBe(told + 1, "the page with the changed record, and none of the lines");
        again.Next.ShouldBe(first.Next);
        again.Records[1].Values["total"].ShouldBe("99");
        again.Records[2].Children["lines"].Count.ShouldBe(3, "where the list goes on is known as well");
    }

    [Fact]
    public async Task A_change_is_asked_for_until_it_is_made()
    {
        await using var office = await StartedAsync();
        using var adapter = Of(office);
        (await adapter.WriteAsync(RecordKind.Order, [Change("J2", "25")], default)).Single().Fate.ShouldBe(WriteFate.Accepted);
        office.Jobs[1]["total"]!.ToString().ShouldBe("25");
        office.PointsElsewhere = true;
        (await adapter.WriteAsync(RecordKind.Order, [Change("J7", "70.5")], default)).Single().Fate.ShouldBe(WriteFate.Accepted);
        office.Jobs[6]["total"]!.ToString().ShouldBe("70.5");
        office.AskedBeforeDone = 1000;
        var document = JsonNode.Parse(Office)!;
        document["resources"]![0]!["write"]!["later"]!["withinSeconds"] = 0.5;
        using var hasty = Of(office, document);
        var open = (await hasty.WriteAsync(RecordKind.Order, [Change("J3", "26")], default)).Single();
        (open.Fate, open.Why!.Words).ShouldBe((WriteFate.Unknown, "Slipway Office began it, and was not done after 0.5 seconds."));
    }

    [Fact]
    public async Task An_operation_says_by_its_state_that_it_failed()
    {
        await using var office = await StartedAsync();
        var document = JsonNode.Parse(Office)!;
        document["resources"]![0]!["write"]!["later"] = JsonNode.Parse(
            """{ "at": "operation", "path": "operations/{key}", "state": "state", "done": ["made"], "failed": ["refused"] }"""
        );
        using var adapter = Of(office, document);
        var answers = await adapter.WriteAsync(RecordKind.Order, [Change("J4", "-1"), Change("J5", "51")], default);
        answers.Select(a => a.Fate).ShouldBe([WriteFate.Refused, WriteFate.Accepted]);
        answers[0].Why!.Words.ShouldBe("Slipway Office began it, and then failed: “Less than nothing.”.");
    }

    [Fact]
    public async Task Only_the_record_as_it_was_read_is_changed()
    {
        await using var office = await StartedAsync();
        using var adapter = Of(office);
        await adapter.LookUpAsync(RecordKind.Order, ["J6"], default);
        office.Jobs[5]["for"] = "somebody else";
        var late = (await adapter.WriteAsync(RecordKind.Order, [Change("J6", "61")], default)).Single();
        (late.Fate, late.Why!.Code).ShouldBe((WriteFate.Refused, "write.overtaken"));
        late.Why.Words.ShouldContain("the record was changed there after Narbit read it");
        await adapter.LookUpAsync(RecordKind.Order, ["J6"], default);
        (await adapter.WriteAsync(RecordKind.Order, [Change("J6", "61")], default)).Single().Fate.ShouldBe(WriteFate.Accepted);
    }

    [Theory]
    [InlineData("list.newestFirst.value", "\"\"", "resources[0].list.newestFirst: say where")]
    [InlineData("children.0.path", "\"a.b\"", "resources[0].children[0].path: give one name")]
    [InlineData("children.0.list.path", "\"lines\"", "resources[0].children[0].list.path: say with {key}")]
    [InlineData("children.0.list.paging", "\"lastKey\"", "resources[0].children[0].list.paging: its entries have no keys")]
    [InlineData("children.0.list.changedSince", "\"since\"", "resources[0].children[0].list: it has a path")]
    [InlineData("children.0.list.path", "\"../{key}\"", "resources[0].children[0].list.path: give a path below")]
    [InlineData("list.each", "\"parts\"", "resources[0].children[0].list: only records that are entries")]
    [InlineData("lookup", """{ "path": "jobs", "parameter": "no" }""", "resources[0].write.ifMatch: needs records that are read")]
    [InlineData("write.later.path", "\"operations\"", "resources[0].write.later.path: say with {key}")]
    [InlineData("write.later.path", "\"http://elsewhere/{key}\"", "resources[0].write.later.path: give a path below")]
    [InlineData("write.later.done", "[\"made\"]", "resources[0].write.later.done: give the words")]
    [InlineData("write.later.withinSeconds", "0", "resources[0].write.later.withinSeconds: must be above 0")]
    public void What_a_description_lacks_is_said_by_its_place(string at, string value, string said)
    {
        var document = JsonNode.Parse(Office)!;
        var here = document["resources"]![0];
        var names = at.Split('.');
        foreach (var name in names[..^1])
            here = int.TryParse(name, out var place) ? here![place] : here![name];
        here![names[^1]] = JsonNode.Parse(value);
        SystemDocument.Read(document.ToJsonString()).Fault!.Words.ShouldStartWith(said);
    }

    private static RecordWrite Change(string key, string total) =>
        new(key, $"once-{key}", new Dictionary<string, string?> { ["total"] = total });

    private static async Task<SlipwayOffice> StartedAsync()
    {
        var office = new SlipwayOffice();
        await office.StartAsync();
        return office;
    }

    private static IAdapter Of(SlipwayOffice office, JsonNode? document = null)
    {
        var read = SystemDocument.Read(document?.ToJsonString() ?? Office);
        read.Fault?.Words.ShouldBeNull();
        return read.Value.Adapter($"{office.Address}/office", null, new OutboundPolicy(AllowLoopback: true), TimeProvider.System).Value;
    }
}
