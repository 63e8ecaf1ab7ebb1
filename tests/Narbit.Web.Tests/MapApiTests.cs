using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace Narbit.Web.Tests;

/// <summary>Lanes as files, maps on trial, codes, value history and what is synced, through the API.</summary>
public sealed class MapApiTests(ApiFixture fixture) : IClassFixture<ApiFixture>
{
    private readonly RunningNarbit _narbit = fixture.Narbit;

    [Fact]
    public async Task A_lane_goes_out_as_a_file_and_comes_back_as_a_version()
    {
        var text = await _narbit.Http.GetStringAsync("/api/lanes/stock-clay-lane/file");
        var file = JsonNode.Parse(text)!;
        file["format"]!.GetValue<string>().ShouldBe("narbit/lane/2");
        file["document"]!["rule"]!["cap"]!.GetValue<decimal>().ShouldBe(20);
        file["document"]!["rule"]!["cap"] = 15;
        file["guards"]!["toZero"] = 3;
        file["skuStartsWith"] = "GLZ";
        var read = await ReadAsync("stock-clay-lane", 1, file.ToJsonString());
        read["number"]!.GetValue<int>().ShouldBe(2);
        var rule = await _narbit.GetAsync("/api/lanes/stock-clay-lane/rule");
        (rule["document"]!["rule"]!["cap"]!.GetValue<decimal>(), rule["guards"]!["toZero"]!.GetValue<int>()).ShouldBe((15, 3));
        (await _narbit.GetAsync("/api/lanes/stock-clay-lane"))["skuStartsWith"]!.GetValue<string>().ShouldBe("GLZ");
        // On top of a version that is no longer the newest it is refused.
        (await RunningNarbit.ProblemAsync(await SendFileAsync("stock-clay-lane", 1, file.ToJsonString()), HttpStatusCode.Conflict))["code"]!
            .GetValue<string>()
            .ShouldBe("rule.changed");
    }

    [Fact]
    public async Task Every_fault_of_a_lane_file_is_listed_by_its_path()
    {
        var file = JsonNode.Parse(await _narbit.Http.GetStringAsync("/api/lanes/prices-web-shop/file"))!;
        file["document"]!["rule"]!["surprise"] = 1;
        file["document"]!["rule"]!["ending"]!["kind"] = "sharp";
        file["guards"]!["priceMove"] = "much";
        Paths(await ReadAsync("prices-web-shop", 1, file.ToJsonString()))
            .ShouldBe(["guards.priceMove", "document.rule.ending.kind", "document.rule.surprise"], ignoreOrder: true);

        var map = new JsonObject
        {
            ["format"] = "narbit/lane/1",
            ["kind"] = "item",
            ["map"] = JsonNode.Parse(
                """
                { "fields": [ { "target": "title", "source": { "fields": ["title"] }, "steps": [ { "do": "limit" } ] },
                  { "target": "colour", "source": { "fields": ["title"] } } ],
                  "crosswalks": [ { "name": "Tax", "entries": [ { "from": "S", "to": "A" }, { "from": "S", "to": "B" } ] } ] }
                """
            ),
        };
        var read = await ReadAsync("items-web-shop", 1, map.ToJsonString());
        Paths(read).ShouldBe(["map.crosswalks[0].entries[1]", "map.fields[0].steps[0]", "map.fields[1].target"], ignoreOrder: true);
        read["faults"]!
            .AsArray()
            .Select(f => f!["message"]!.GetValue<string>())
            .ShouldContain(m => m.Contains("the target has no field “colour” any more", StringComparison.Ordinal));
        Paths(await ReadAsync("items-web-shop", 1, file.ToJsonString().Replace("\"surprise\":1,", "", StringComparison.Ordinal)[..40]))[0]
            .ShouldBe("");
        (await ReadAsync("items-web-shop", 1, "{ \"format\": ")).AsObject()["faults"]![0]!["message"]!
            .GetValue<string>()
            .ShouldStartWith("this is no JSON");
        (await _narbit.GetAsync("/api/lanes/items-web-shop/rule"))["number"]!.GetValue<int>().ShouldBe(1);
    }

    [Fact]
    public async Task The_published_schemas_are_those_that_files_are_checked_by()
    {
        foreach (
            var name in new[] { "lane", "rest-system", "file-system", "workspace", "workspace-lane", "workspace-job", "workspace-pairs" }
        )
            WithoutToys(await _narbit.Http.GetStringAsync($"/api/schemas/{name}.json"))
                .ShouldBe(
                    await File.ReadAllTextAsync(Path.Combine(RunningNarbit.Root, "docs", "schemas", $"{name}.json")),
                    $"write it anew by ./narbit schema {name} > docs/schemas/{name}.json"
                );
    }

    /// <summary>The toys of these tests add a kind of record; what is published knows nothing of it.</summary>
    private static string WithoutToys(string schema) => Regex.Replace(schema, @",\s*""shelf""", "");

    [Fact]
    public async Task A_map_on_trial_says_what_would_change_and_what_cannot_be_mapped()
    {
        var map = JsonNode.Parse(
            """
            { "fields": [
                { "target": "title", "source": { "fields": ["title"] } },
                { "target": "weight", "source": { "fields": ["weight"] },
                  "steps": [ { "do": "expression", "with": { "write": "weight / 0", "gives": "number" } } ] }
            ] }
            """
        )!;
        var trial = await PostAsync(
            "/api/lanes/items-web-shop/rule/try",
            new
            {
                document = new { kind = "item", map },
                guards = (object?)null,
                focus = "title",
            }
        );
        var faults = trial["faults"]!.AsArray();
        if (faults.Count == 0)
            trial["failing"]!.GetValue<int>().ShouldBe(trial["records"]!.GetValue<int>());
        else
            faults[0]!["path"]!.GetValue<string>().ShouldStartWith("fields[1].steps[0]");

        map["fields"]!.AsArray().RemoveAt(1);
        trial = await PostAsync(
            "/api/lanes/items-web-shop/rule/try",
            new
            {
                document = new { kind = "item", map },
                guards = (object?)null,
                focus = "title",
            }
        );
        trial["samples"]!.AsArray().Count.ShouldBe(5);
        trial["changes"]!.GetValue<int>().ShouldBeGreaterThan(50);
        (trial["required"]!.GetValue<int>(), trial["requiredMapped"]!.GetValue<int>()).ShouldBe((2, 1));
        trial["tripped"]![0]!["kind"]!.GetValue<string>().ShouldBe("changedShare");
        // Nothing was saved.
        (await _narbit.GetAsync("/api/lanes/items-web-shop/rule"))["document"]!["map"]!["fields"]!
            .AsArray()
            .ShouldBeEmpty();
    }

    [Fact]
    public async Task Codes_without_an_entry_stand_first_with_the_records_that_wait()
    {
        var map = JsonNode.Parse(
            """
            { "fields": [ { "target": "category", "source": { "fields": ["category"] },
              "steps": [ { "do": "crosswalk", "with": { "table": "Class" } } ] } ],
              "crosswalks": [ { "name": "Class", "separator": "›", "entries": [
                { "from": "Glazes › Brush-on", "to": "Glazes › Brush-on" },
                { "from": "Elsewhere", "to": "Nowhere" } ] } ] }
            """
        )!;
        var view = await PostAsync("/api/lanes/items-web-shop/map/codes", new { map, table = "Class" });
        var here = view["here"]!.AsArray();
        view["unlisted"]!.GetValue<int>().ShouldBe(here.Count(h => h!["to"] is null));
        view["waiting"]!.GetValue<int>().ShouldBe(here.Where(h => h!["to"] is null).Sum(h => h!["records"]!.GetValue<int>()));
        here.Select(h => h!["to"] is null).ShouldBeInOrder(SortDirection.Descending);
        here[^1]!["records"]!.GetValue<int>().ShouldBe(0, "an entry that no record uses stands last");
        here.First(h => h!["to"] is null)!["suggested"].ShouldNotBeNull("the shop has the same category");
        view["there"]!.AsArray().ShouldNotBeEmpty();
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, "/api/lanes/items-web-shop/map/codes", new { map, table = "Other" }),
            HttpStatusCode.NotFound
        );
    }

    [Fact]
    public async Task What_was_this_price_then_and_who_set_it()
    {
        var run = await _narbit.StartRunAsync("prices-web-shop", preview: true);
        await _narbit.EndedAsync(run);
        var write = (await _narbit.GetAsync($"/api/runs/{run}/writes?show=up&limit=1"))["rows"]![0]!;
        (
            await _narbit.SendAsync(
                HttpMethod.Post,
                $"/api/runs/{run}/send",
                new { all = false, only = new[] { write["id"]!.GetValue<long>() } }
            )
        ).EnsureSuccessStatusCode();
        await _narbit.EndedAsync(run);
        var key = write["targetKey"]!.GetValue<string>();
        var sent = DateTimeOffset.UtcNow;
        // Then the shop's people change it by hand, and Narbit sees that when it reads.
        _narbit.Sandbox.Shop.SetPrice(long.Parse(key, CultureInfo.InvariantCulture), 4_321);
        (await _narbit.SendAsync(HttpMethod.Post, "/api/systems/web-shop/read", new { full = true })).EnsureSuccessStatusCode();
        JsonNode history = null!;
        await _narbit.UntilAsync(async () =>
            (history = await _narbit.GetAsync($"/api/systems/web-shop/items/{key}/history?field=price"))["entries"]!.AsArray().Count >= 2
        );
        var entries = history["entries"]!.AsArray();
        entries[0]!.ShouldSatisfyAllConditions(
            e => e!["new"]!.GetValue<string>().ShouldBe("43.21"),
            e => e!["set"]!["by"]!.GetValue<string>().ShouldBe("changed in Lanternmoor Web Shop"),
            e => e!["set"]!["runId"].ShouldBeNull()
        );
        entries[1]!.ShouldSatisfyAllConditions(
            e => e!["new"]!.GetValue<string>().ShouldBe(write["new"]!.GetValue<string>()),
            e => e!["set"]!["runId"]!.GetValue<long>().ShouldBe(run),
            e => e!["set"]!["by"]!.GetValue<string>().ShouldContain("Ines O.")
        );

        var then = await PriceAsync($"at={Uri.EscapeDataString(sent.ToString("O", CultureInfo.InvariantCulture))}");
        then["value"]!.GetValue<string>().ShouldBe(write["new"]!.GetValue<string>());
        then["set"]!["runId"]!.GetValue<long>().ShouldBe(run);
        then["until"]!.GetValue<DateTimeOffset>().ShouldBe(entries[0]!["at"]!.GetValue<DateTimeOffset>());
        // A clock is the workspace's.
        var shown = TimeZoneInfo.ConvertTime(sent, TimeZoneInfo.FindSystemTimeZoneById("Europe/Dublin"));
        (await PriceAsync($"clock={shown:yyyy-MM-ddTHH:mm:ss.fffffff}"))["value"]!
            .GetValue<string>()
            .ShouldBe(then["value"]!.GetValue<string>());
        // Long before anything was read: the first value that is known, and that it is no more than that.
        var first = await PriceAsync("clock=2020-01-03T12:00");
        first["value"]!.GetValue<string>().ShouldBe(write["old"]!.GetValue<string>());
        (first["earlier"]!.GetValue<bool>(), first["set"]!["by"]!.GetValue<string>()).ShouldBe(
            (true, "as first read from Lanternmoor Web Shop")
        );
        async Task<JsonNode> PriceAsync(string when) =>
            (await _narbit.GetAsync($"/api/systems/web-shop/items/{key}/history?field=price&{when}"))["fields"]!
                .AsArray()
                .Single(f => f!["field"]!.GetValue<string>() == "price")!["then"]!;

        await RunningNarbit.ProblemAsync(await _narbit.Http.GetAsync("/api/systems/web-shop/items/none/history"), HttpStatusCode.NotFound);
    }

    [Theory]
    [InlineData("search=GLZ")]
    [InlineData("category=Glazes%20%E2%80%BA%20Brush-on")]
    [InlineData("location=Kilnyard")]
    [InlineData("store=web-shop")]
    public async Task Items_are_found_by_what_a_person_knows_of_them(string filter)
    {
        var all = (await _narbit.GetAsync("/api/synced?limit=1"))["total"]!.GetValue<int>();
        var found = await _narbit.GetAsync($"/api/synced?{filter}&limit=500");
        found["total"]!.GetValue<int>().ShouldBeInRange(1, all - 1);
        if (filter.StartsWith("category", StringComparison.Ordinal))
            found["rows"]!
                .AsArray()
                .ShouldAllBe(r => r!["category"]!.GetValue<string>().StartsWith("Glazes › Brush-on", StringComparison.Ordinal));
        if (filter.StartsWith("search", StringComparison.Ordinal))
            found["rows"]!
                .AsArray()
                .ShouldAllBe(r =>
                    r!["reference"]!.GetValue<string>().Contains("GLZ", StringComparison.OrdinalIgnoreCase)
                    || r["caption"]!.GetValue<string>().Contains("GLZ", StringComparison.OrdinalIgnoreCase)
                );
    }

    [Fact]
    public async Task A_preset_turns_whole_lanes_on_and_off_and_a_bulk_change_counts_first()
    {
        (
            await _narbit.SendAsync(HttpMethod.Put, "/api/synced/preset", new { store = "quay-street-till", preset = "priceAndStock" })
        ).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await _narbit.GetAsync("/api/lanes/items-quay-street-till"))["off"]!.GetValue<bool>().ShouldBeTrue();
        (await _narbit.GetAsync("/api/lanes/prices-quay-street-till"))["off"]!.GetValue<bool>().ShouldBeFalse();
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, "/api/lanes/items-quay-street-till/runs", new { preview = false }),
            HttpStatusCode.Conflict
        );
        (
            await _narbit.SendAsync(HttpMethod.Put, "/api/synced/preset", new { store = "quay-street-till", preset = "everything" })
        ).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Put, "/api/synced/preset", new { store = "quay-street-till", preset = "most" }),
            HttpStatusCode.BadRequest
        );

        var filter = new
        {
            search = "CLY",
            category = (string?)null,
            location = (string?)null,
            store = (string?)null,
            keptOff = (string?)null,
        };
        object Change(bool countOnly, bool keepOff) =>
            new
            {
                filter,
                sourceKeys = (string[]?)null,
                lanes = new[] { "items-trade-portal", "stock-trade-portal" },
                keepOff,
                countOnly,
            };
        var counted = await PostAsync("/api/synced", Change(true, true));
        var items = counted["items"]!.GetValue<int>();
        counted["changes"]!.GetValue<int>().ShouldBe(items * 2);
        (await PostAsync("/api/synced", Change(false, true)))["changes"]!.GetValue<int>().ShouldBe(items * 2);
        (await PostAsync("/api/synced", Change(true, true)))["changes"]!.GetValue<int>().ShouldBe(0);
        (await _narbit.GetAsync("/api/synced?keptOff=items-trade-portal"))["total"]!.GetValue<int>().ShouldBe(items);
        (await PostAsync("/api/synced", Change(false, false)))["changes"]!.GetValue<int>().ShouldBe(items * 2);
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(
                HttpMethod.Post,
                "/api/synced",
                new
                {
                    filter,
                    sourceKeys = (string[]?)null,
                    lanes = Array.Empty<string>(),
                    keepOff = true,
                    countOnly = true,
                }
            ),
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Fact]
    public async Task Exposure_is_listed_with_the_most_exposed_first()
    {
        var page = await _narbit.GetAsync("/api/exposure?limit=50");
        var rows = page["rows"]!.AsArray();
        rows.Select(r => r!["exposure"]!.GetValue<decimal>()).ShouldBeInOrder(SortDirection.Descending);
        foreach (var row in rows.Take(3))
            (await _narbit.GetAsync($"/api/items/{row!["key"]}"))["item"]!["exposure"]!
                .GetValue<decimal>()
                .ShouldBe(row["exposure"]!.GetValue<decimal>());
        (page["stores"]!.AsArray().Count + page["notCounted"]!.AsArray().Count).ShouldBe(4);
    }

    private static List<string> Paths(JsonNode read)
    {
        read["number"].ShouldBeNull();
        return
        [
            .. read["faults"]!
                .AsArray()
                .Where(f => f!["severity"]!.GetValue<string>() == "refuse")
                .Select(f => f!["path"]!.GetValue<string>()),
        ];
    }

    private Task<HttpResponseMessage> SendFileAsync(string lane, int baseNumber, string text) =>
        _narbit.SendAsync(
            HttpMethod.Post,
            $"/api/lanes/{lane}/file",
            new
            {
                baseNumber,
                text,
                note = (string?)null,
            }
        );

    private async Task<JsonNode> ReadAsync(string lane, int baseNumber, string text)
    {
        var response = await SendFileAsync(lane, baseNumber, text);
        response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
        return (await response.Content.ReadFromJsonAsync<JsonNode>())!;
    }

    private async Task<JsonNode> PostAsync(string path, object body)
    {
        var response = await _narbit.SendAsync(HttpMethod.Post, path, body);
        response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
        return (await response.Content.ReadFromJsonAsync<JsonNode>())!;
    }
}
