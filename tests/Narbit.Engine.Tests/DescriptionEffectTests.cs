using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Tests;

/// <summary>What another description of a system would do to the records that are kept and to lanes.</summary>
public sealed class DescriptionEffectTests
{
    private const string Shop = "web-shop";

    [Fact]
    public async Task The_same_description_does_nothing()
    {
        await using var bench = await ReadAsync();
        var effect = await EffectAsync(bench, Shop, _ => { });
        effect.Kinds.ShouldBeEmpty();
        effect.Lanes.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_field_that_is_read_otherwise_is_told_with_its_records()
    {
        await using var bench = await ReadAsync();
        var effect = await EffectAsync(bench, Shop, document => Field(document, "price")["factor"] = 0.1);
        var items = effect.Kinds.ShouldHaveSingleItem();
        (items.Kind, items.Troubled).ShouldBe((RecordKind.Item, 0));
        var price = items.Fields.ShouldHaveSingleItem();
        (price.Field, price.Records).ShouldBe(("price", items.Otherwise));
        price.First.Count.ShouldBe(20);
        decimal Amount(string? text) => decimal.Parse(text!, CultureInfo.InvariantCulture);
        Amount(price.First[0].After).ShouldBe(Amount(price.First[0].Before) * 10);
        effect.Lanes.ShouldBeEmpty("both lanes find all that they need");
    }

    [Fact]
    public async Task A_field_that_is_gone_is_missed_by_the_lanes_that_need_it()
    {
        await using var bench = await ReadAsync();
        var effect = await EffectAsync(bench, Shop, document => Fields(document).Remove(Field(document, "price")));
        var price = effect.Kinds.Single().Fields.ShouldHaveSingleItem();
        price.First.ShouldAllBe(f => f.Before != null && f.After == null);
        price.First.ShouldNotBeEmpty();
        var lane = effect.Lanes.ShouldHaveSingleItem();
        lane.Lane.ShouldBe(Workbench.Prices);
        lane.Faults.ShouldNotBeEmpty();
    }

    [Fact]
    public async Task Records_that_would_not_be_as_described_are_counted()
    {
        await using var bench = await ReadAsync();
        var effect = await EffectAsync(bench, Shop, document => Field(document, "title")["type"] = "integer");
        var items = effect.Kinds.Single();
        items.Otherwise.ShouldBe(items.Looked);
        await using var db = bench.Database.CreateDbContext();
        var troubled = await db.Records.CountAsync(r => r.SystemId == Shop && r.Kind == RecordKind.Item && r.Problems != null);
        items.Troubled.ShouldBe(items.Looked - troubled, "those that were not as described before are not told again");
    }

    [Fact]
    public async Task A_kind_that_is_described_no_more_stays_as_it_is()
    {
        await using var bench = await ReadAsync();
        var effect = await EffectAsync(
            bench,
            "back-office",
            document =>
            {
                var resources = document["resources"]!.AsArray();
                resources.Remove(resources.First(r => r!["kind"]!.GetValue<string>() == "stockLevel"));
            }
        );
        var levels = effect.Kinds.Single(k => k.Kind == RecordKind.StockLevel);
        levels.Said.ShouldBe("they would be read no more; what is kept of them stays as it is");
        levels.Looked.ShouldBeGreaterThan(200);
        effect.Lanes.Select(l => l.Lane).ShouldContain(Workbench.Stock);
    }

    [Fact]
    public async Task A_description_that_cannot_be_used_says_why()
    {
        await using var bench = await ReadAsync();
        var effects = new DescriptionEffects(bench.Database, bench.Adapters);
        (await effects.OfAsync(Shop, "{}", "http://x", default)).Fault.ShouldNotBeNull();
        (await effects.OfAsync("nobody", "{}", "http://x", default)).Fault!.Code.ShouldBe("system.unknown");
    }

    private static async Task<Workbench> ReadAsync()
    {
        var bench = await Workbench.OpenAsync(items: 240, orders: 0);
        foreach (var system in new[] { "back-office", Shop })
            await bench.Reader.ReadSystemAsync(system, full: true, default);
        return bench;
    }

    private static async Task<DescriptionEffect> EffectAsync(Workbench bench, string id, Action<JsonNode> change)
    {
        var system = (await bench.Adapters.ForAsync(id, default)).Value.System;
        var document = JsonNode.Parse(system.Document)!;
        change(document);
        var effects = new DescriptionEffects(bench.Database, bench.Adapters);
        return (await effects.OfAsync(id, document.ToJsonString(), system.Address, default)).Value;
    }

    private static JsonArray Fields(JsonNode document) =>
        document["resources"]!.AsArray().First(r => r!["kind"]!.GetValue<string>() == "item")!["fields"]!.AsArray();

    private static JsonNode Field(JsonNode document, string name) => Fields(document).First(f => f!["name"]!.GetValue<string>() == name)!;
}
