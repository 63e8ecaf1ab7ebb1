using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

public sealed class ApiFixture : IAsyncLifetime
{
    public RunningNarbit Narbit { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Narbit = await RunningNarbit.StartAsync(asProcess: true);

    public ValueTask DisposeAsync() => Narbit.DisposeAsync();
}

/// <summary>Tests that share one Narbit; none of them minds what the others did.</summary>
[CollectionDefinition("one Narbit")]
public sealed class OneNarbit : ICollectionFixture<ApiFixture>;

[Collection("one Narbit")]
public sealed class ApiTests(ApiFixture fixture)
{
    private readonly RunningNarbit _narbit = fixture.Narbit;

    [Fact]
    public async Task Today_shows_the_lanes_with_real_figures_and_what_needs_a_person()
    {
        var today = await _narbit.GetAsync("/api/today");
        today["workspace"]!["hub"]!["mark"]!.GetValue<string>().ShouldBe("BO");
        var lanes = today["rows"]!.AsArray().SelectMany(r => r!["lanes"]!.AsArray()).ToList();
        lanes.Count.ShouldBe(16);
        foreach (
            var lane in lanes.Where(l => l!["target"]!["id"]!.GetValue<string>() == "web-shop" && l["kind"]!.GetValue<string>() != "item")
        )
            lane!["standing"]!["compared"]!.GetValue<int>().ShouldBeGreaterThan(150);
        await _narbit.UntilMismatchAsync("cause=pair.none", rows => rows.Count > 0);
        var causes = (await _narbit.GetAsync("/api/today"))["causes"]!.AsArray();
        causes.Select(c => c!["cause"]!.GetValue<string>()).ShouldContain("pair.none");
        causes.ShouldAllBe(c => c!["count"]!.GetValue<int>() > 0);
    }

    [Fact]
    public async Task Every_count_of_today_and_of_a_lane_leads_to_a_list_of_as_many()
    {
        var today = await _narbit.GetAsync("/api/today");
        // The desk follows what happens: each count is that of its list once it has caught up.
        await _narbit.UntilAsync(async () =>
        {
            var causes = (await _narbit.GetAsync("/api/today"))["causes"]!.AsArray();
            foreach (var cause in causes)
            {
                var list = $"/api/mismatches?cause={Uri.EscapeDataString(cause!["cause"]!.GetValue<string>())}&limit=1";
                if ((await _narbit.GetAsync(list))["total"]!.GetValue<int>() != cause["count"]!.GetValue<int>())
                    return false;
            }

            return causes.Count > 0;
        });

        foreach (var lane in today["rows"]!.AsArray().SelectMany(r => r!["lanes"]!.AsArray()))
        {
            var standing = lane!["standing"]!;
            if (standing["runId"] is not { } run || standing["isStale"]!.GetValue<bool>())
                continue;
            foreach (
                var (count, list) in new[]
                {
                    ("planned", "writes?show=planned"),
                    ("held", "writes?show=held"),
                    ("notChosen", "writes?show=skipped"),
                    ("failed", "writes?show=failed"),
                    ("takenBack", "writes?show=takenBack"),
                    ("notComputed", "remarks"),
                }
            )
                (await _narbit.GetAsync($"/api/runs/{run}/{list}"))["total"]!
                    .GetValue<int>()
                    .ShouldBe(standing[count]!.GetValue<int>(), count);
        }

        var since = today["since"]!;
        var from = Uri.EscapeDataString(since["from"]!.GetValue<string>());
        foreach (
            var (count, list) in new[]
            {
                ("written", "written?show=confirmed"),
                ("writesFailed", "written?show=failed"),
                ("runsDone", "runs?outcome=done"),
                ("runsFailed", "runs?outcome=failed"),
            }
        )
            (await _narbit.GetAsync($"/api/{list}&from={from}"))["total"]!.GetValue<int>().ShouldBe(since[count]!.GetValue<int>(), count);
    }

    [Fact]
    public async Task Runs_are_found_by_lane_outcome_person_and_time()
    {
        var all = (await _narbit.GetAsync("/api/runs?limit=200"))["rows"]!.AsArray();
        async Task<int> CountAsync(string filter) => (await _narbit.GetAsync($"/api/runs?{filter}"))["total"]!.GetValue<int>();
        (await CountAsync("lane=prices-web-shop")).ShouldBe(all.Count(r => r!["laneId"]!.GetValue<string>() == "prices-web-shop"));
        (await CountAsync("outcome=waits")).ShouldBe(all.Count(r => r!["state"]!.GetValue<string>() == "ready"));
        (await CountAsync("by=nobody")).ShouldBe(0);
        (await CountAsync("from=2099-01-01T00:00:00Z")).ShouldBe(0);
        (await CountAsync("until=2099-01-01T00:00:00Z")).ShouldBe(all.Count);
    }

    [Fact]
    public async Task A_field_says_what_it_holds_and_which_lanes_use_it()
    {
        var fields = (await _narbit.GetAsync("/api/systems/back-office/fields/at-work")).AsArray();
        JsonNode Of(string kind, string field) =>
            fields.Single(f => f!["kind"]!.GetValue<string>() == kind && f["field"]!.GetValue<string>() == field)!;
        Of("item", "sku")["samples"]!.AsArray().Count.ShouldBe(3);
        var lanes = Of("item", "studio")["lanes"]!.AsArray();
        lanes.Select(l => l!["laneId"]!.GetValue<string>()).ShouldContain("prices-web-shop");
        lanes.ShouldAllBe(l => !l!["writes"]!.GetValue<bool>());
        Of("stockLevel", "onHand")["lanes"]!.AsArray().Select(l => l!["laneId"]!.GetValue<string>()).ShouldContain("stock-web-shop");
    }

    [Fact]
    public async Task Exposure_is_sorted_and_taken_out_and_says_which_stores_it_cannot_count()
    {
        var page = await _narbit.GetAsync("/api/exposure?sort=sku&limit=200");
        var skus = page["rows"]!.AsArray().Select(r => r!["sku"]!.GetValue<string>()).ToList();
        skus.ShouldBe(skus.Order(StringComparer.Ordinal));
        page["notCounted"]!.AsArray().Select(s => s!["id"]!.GetValue<string>()).ShouldContain("clay-lane");
        var file = await _narbit.Http.GetStringAsync("/api/exposure.csv?sort=sku");
        file.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(page["total"]!.GetValue<int>() + 1);
        file.ShouldContain("available, pcs");
    }

    [Fact]
    public async Task Credentials_never_come_back_and_are_never_logged()
    {
        foreach (var path in new[] { "/api/systems", "/api/systems/web-shop/document", "/api/today", "/api/systems/web-shop/fields" })
            (await _narbit.Http.GetStringAsync(path)).ShouldNotContain("shopfront-demo");
        await _narbit.SendAsync(HttpMethod.Post, "/api/systems/web-shop/test");
        var log = await File.ReadAllTextAsync(_narbit.LogFile);
        foreach (var secret in new[] { "shopfront-demo", "kilnyard-demo-key", Convert.ToBase64String("narbit:shopfront-demo"u8) })
            log.ShouldNotContain(secret);
    }

    [Fact]
    public async Task A_system_is_tested_in_plain_words()
    {
        var answer = await (
            await _narbit.SendAsync(HttpMethod.Post, "/api/systems/back-office/test")
        ).Content.ReadFromJsonAsync<JsonNode>();
        answer!["ok"]!.GetValue<bool>().ShouldBeTrue();
        answer["message"]!.GetValue<string>().ShouldContain("Lanternmoor Back Office");
        (await _narbit.GetAsync("/api/systems")).AsArray().Single(s => s!["id"]!.GetValue<string>() == "back-office")!["testOk"]!
            .GetValue<bool>()
            .ShouldBeTrue();
    }

    [Fact]
    public async Task A_system_can_be_tried_before_it_is_kept()
    {
        var document = await File.ReadAllTextAsync(Path.Combine(RunningNarbit.Root, "demo", "systems", "web-shop.json"));
        var address = new Uri(_narbit.Sandbox.Address, "web-shop/").ToString();
        var refused = await TestAsync(
            new
            {
                document,
                address,
                credential = new { user = "narbit", secret = "wrong" },
            }
        );
        refused["ok"]!.GetValue<bool>().ShouldBeFalse();
        refused["message"]!.GetValue<string>().ShouldContain("refused the credentials (401)");
        (
            await TestAsync(
                new
                {
                    document,
                    address,
                    credential = new { user = "narbit", secret = "shopfront-demo" },
                }
            )
        )["ok"]!.GetValue<bool>().ShouldBeTrue();

        var second = document
            .Replace("\"WS\"", "\"W2\"", StringComparison.Ordinal)
            .Replace("Lanternmoor Web Shop", "Second Shop", StringComparison.Ordinal);
        var added = await _narbit.SendAsync(
            HttpMethod.Post,
            "/api/systems",
            new
            {
                id = "second-shop",
                document = second,
                address,
                credential = new { user = "narbit", secret = "shopfront-demo" },
                mayRead = true,
                mayWrite = false,
            }
        );
        added.StatusCode.ShouldBe(HttpStatusCode.Created, await added.Content.ReadAsStringAsync());
        var again = await _narbit.SendAsync(
            HttpMethod.Post,
            "/api/systems",
            new
            {
                id = "second-shop",
                document = second,
                address,
                mayRead = true,
                mayWrite = false,
            }
        );
        (await RunningNarbit.ProblemAsync(again, HttpStatusCode.Conflict))["code"]!.GetValue<string>().ShouldBe("system.exists");
        (await _narbit.SendAsync(HttpMethod.Post, "/api/systems/second-shop/read", new { full = true })).StatusCode.ShouldBe(
            HttpStatusCode.Accepted
        );
        await _narbit.UntilAsync(async () =>
            (await _narbit.GetAsync("/api/systems/second-shop/records/item?limit=1"))["total"]!.GetValue<int>() > 100
        );

        async Task<JsonNode> TestAsync(object body) =>
            (await (await _narbit.SendAsync(HttpMethod.Post, "/api/systems/test", body)).Content.ReadFromJsonAsync<JsonNode>())!;
    }

    [Theory]
    [InlineData("http://169.254.169.254/", "address.forbidden")]
    [InlineData("shop.example", "address.invalid")]
    public async Task Addresses_that_cannot_be_used_are_refused(string address, string code)
    {
        var document = await File.ReadAllTextAsync(Path.Combine(RunningNarbit.Root, "demo", "systems", "web-shop.json"));
        var response = await _narbit.SendAsync(HttpMethod.Post, "/api/systems/test", new { document, address });
        (await RunningNarbit.ProblemAsync(response, HttpStatusCode.UnprocessableEntity))["code"]!.GetValue<string>().ShouldBe(code);
    }

    [Fact]
    public async Task Records_page_and_filter_in_the_database()
    {
        var all = await _narbit.GetAsync("/api/systems/back-office/records/item?limit=50&offset=200");
        all["total"]!.GetValue<int>().ShouldBe(240);
        all["rows"]!.AsArray().Count.ShouldBe(40);
        (await _narbit.GetAsync("/api/systems/back-office/records/item?search=celadon"))["total"]!.GetValue<int>().ShouldBeInRange(3, 12);
        (await _narbit.GetAsync("/api/systems/back-office/records/item?search=%25"))["total"]!.GetValue<int>().ShouldBe(0);
        (await _narbit.GetAsync("/api/systems/back-office/records/item?troubled=true"))["total"]!.GetValue<int>().ShouldBe(2);
        (await _narbit.GetAsync("/api/systems/back-office/records/stockLevel"))["total"]!.GetValue<int>().ShouldBe(720);
        var one = await _narbit.GetAsync("/api/systems/back-office/records/item/10001");
        one["raw"]!.GetValue<string>().ShouldContain("weightGrams");
    }

    [Fact]
    public async Task Pairs_are_shown_with_what_the_rule_makes_of_them()
    {
        var couple = await _narbit.CoupleAsync("web-shop");
        var paired = (await _narbit.GetAsync($"/api/couples/{couple["id"]}/rows?show=paired&limit=500"))["rows"]!.AsArray();
        paired.Count.ShouldBe(couple["counts"]!["paired"]!.GetValue<int>());
        var seam = await _narbit.GetAsync($"/api/lanes/prices-web-shop/seam/{paired[20]!["otherKey"]}");
        seam["rows"]!.AsArray().First()!["label"]!.GetValue<string>().ShouldBe("SKU");
        seam["trace"]!.AsArray().Count.ShouldBe(8);
        await RunningNarbit.ProblemAsync(await _narbit.Http.GetAsync("/api/lanes/prices-web-shop/seam/0"), HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Two_windows_that_save_the_same_rule_do_not_overwrite_each_other()
    {
        var number = (await _narbit.GetAsync("/api/lanes/stock-web-shop/rule"))["number"]!.GetValue<int>();
        var first = await _narbit.SendAsync(
            HttpMethod.Put,
            "/api/lanes/stock-web-shop/rule",
            new
            {
                baseNumber = number,
                note = "hold two back",
                document = new { kind = "stock", rule = new { holdBack = 2 } },
            }
        );
        first.StatusCode.ShouldBe(HttpStatusCode.OK, await first.Content.ReadAsStringAsync());
        var second = await _narbit.SendAsync(
            HttpMethod.Put,
            "/api/lanes/stock-web-shop/rule",
            new { baseNumber = number, document = new { kind = "stock", rule = new { holdBack = 5 } } }
        );
        var problem = await RunningNarbit.ProblemAsync(second, HttpStatusCode.Conflict);
        problem["detail"]!.GetValue<string>().ShouldContain($"version {number + 1} by Ines O., “hold two back”");
        (await _narbit.GetAsync("/api/lanes/stock-web-shop/rule"))["document"]!["rule"]!["holdBack"]!.GetValue<decimal>().ShouldBe(2);
        (await _narbit.GetAsync("/api/lanes/stock-web-shop/rule/versions")).AsArray().Count.ShouldBe(number + 1);
    }

    [Fact]
    public async Task A_rule_that_would_do_harm_is_refused_with_every_finding()
    {
        var response = await _narbit.SendAsync(
            HttpMethod.Put,
            "/api/lanes/prices-web-shop/rule",
            new
            {
                baseNumber = 1,
                document = new
                {
                    kind = "price",
                    rule = new
                    {
                        priceList = "Trade",
                        bands = new[]
                        {
                            new
                            {
                                from = "0",
                                to = "60",
                                multiply = "8",
                            },
                            new
                            {
                                from = "70",
                                to = "90",
                                multiply = "1",
                            },
                        },
                        ending = new { kind = "charm" },
                    },
                },
            }
        );
        var problem = await RunningNarbit.ProblemAsync(response, HttpStatusCode.UnprocessableEntity);
        problem["faults"]!
            .AsArray()
            .Where(f => f!["severity"]!.GetValue<string>() == "refuse")
            .Select(f => f!["path"]!.GetValue<string>())
            .ShouldBe(["priceList", "bands[0].multiply", "bands[1].from", "ending.endings"]);
        (
            await RunningNarbit.ProblemAsync(
                await _narbit.SendAsync(
                    HttpMethod.Put,
                    "/api/lanes/stock-web-shop/rule",
                    new { baseNumber = 1, document = new { kind = "stock", rule = new { locations = new[] { "Attic" } } } }
                ),
                HttpStatusCode.UnprocessableEntity
            )
        )["detail"]!
            .GetValue<string>()
            .ShouldContain("There is no location “Attic”");
    }

    [Theory]
    [InlineData(
        """{"baseNumber":1,"document":{"kind":"price","rule":{"priceList":"Studio","markup":5}}}""",
        "unknown key “markup” in document.rule"
    )]
    [InlineData("""{"baseNumber":1,"document":{"rule":{"sale":"often"},"kind":"price"}}""", "document.rule.sale cannot be read")]
    [InlineData("{", "could not be read")]
    public async Task A_request_that_cannot_be_read_is_answered_with_the_place(string body, string message)
    {
        var response = await _narbit.Http.PutAsync(
            "/api/lanes/prices-web-shop/rule",
            new StringContent(body, Encoding.UTF8, "application/json")
        );
        (await RunningNarbit.ProblemAsync(response, HttpStatusCode.BadRequest))["detail"]!.GetValue<string>().ShouldContain(message);
    }

    [Theory]
    [InlineData("/api/lanes/nowhere", HttpStatusCode.NotFound)]
    [InlineData("/api/runs/4711", HttpStatusCode.NotFound)]
    [InlineData("/api/systems/back-office/records/item/none", HttpStatusCode.NotFound)]
    [InlineData("/api/nothing/here", HttpStatusCode.NotFound)]
    [InlineData("/api/systems/back-office/records/castle", HttpStatusCode.NotFound)]
    public async Task Every_error_is_problem_details(string path, HttpStatusCode status)
    {
        var problem = await RunningNarbit.ProblemAsync(await _narbit.Http.GetAsync(path), status);
        problem["title"]!.GetValue<string>().ShouldNotBeEmpty();
        problem["detail"]!.GetValue<string>().ShouldNotBeEmpty();
    }

    [Fact]
    public async Task A_foreign_page_cannot_write()
    {
        var request = new HttpRequestMessage(HttpMethod.Post, "/api/lanes/prices-web-shop/runs")
        {
            Content = JsonContent.Create(new { preview = false }),
        };
        request.Headers.Add("Sec-Fetch-Site", "cross-site");
        (await RunningNarbit.ProblemAsync(await _narbit.Http.SendAsync(request), HttpStatusCode.BadRequest))["detail"]!
            .GetValue<string>()
            .ShouldContain("another page");
        (await _narbit.Http.GetAsync("/api/lanes"))
            .Headers.GetValues("Content-Security-Policy")
            .Single()
            .ShouldContain("default-src 'self'");
    }

    [Fact]
    public async Task A_trial_shows_the_effect_on_real_items_and_writes_nothing()
    {
        var response = await _narbit.SendAsync(
            HttpMethod.Post,
            "/api/lanes/prices-web-shop/rule/try",
            new { document = new { kind = "price", rule = RunningNarbit.Markup } }
        );
        var trial = (await response.Content.ReadFromJsonAsync<JsonNode>())!;
        trial["changes"]!.GetValue<int>().ShouldBeGreaterThan(150);
        trial["samples"]!.AsArray().Count.ShouldBe(6);
        trial["samples"]![1]!["trial"]!.GetValue<string>().ShouldEndWith(".99");
        (await _narbit.GetAsync("/api/lanes/prices-web-shop/rule"))["number"]!.GetValue<int>().ShouldBe(1);
    }

    [Fact]
    public async Task The_export_never_hands_a_spreadsheet_a_formula()
    {
        var run = await _narbit.StartRunAsync("prices-web-shop", preview: true);
        await _narbit.EndedAsync(run);
        await _narbit.UntilAsync(async () => (await _narbit.Http.GetAsync($"/api/runs/{run}/writes.csv")).IsSuccessStatusCode);
        var lines = (await _narbit.Http.GetStringAsync($"/api/runs/{run}/writes.csv")).Split("\r\n", StringSplitOptions.RemoveEmptyEntries);
        lines[0]
            .ShouldBe(
                "kind,way,reference,caption,source key,target key,state,field,old,new,move,unit,held because,guards,what became of it"
            );
        lines.Length.ShouldBe((await _narbit.GetAsync($"/api/runs/{run}/writes"))["total"]!.GetValue<int>() + 1);
        foreach (var cell in lines.Skip(1).SelectMany(l => l.Split(',').Take(3)))
            (cell.Trim('"') is ['=' or '+' or '-' or '@', ..]).ShouldBeFalse(cell);
    }

    [Theory]
    [InlineData("2026-10-25", 25, "01:00")]
    [InlineData("2027-03-28", 23, "02:00")]
    [InlineData("2026-11-29", 24, null)]
    public async Task A_day_on_which_the_clocks_change_has_the_hours_that_it_has(string day, int hours, string? changed)
    {
        var marks = (await _narbit.GetAsync($"/api/timetable?day={day}"))["hours"]!.AsArray();
        marks.Count.ShouldBe(hours);
        marks
            .Where(m => m!["changed"]!.GetValue<bool>())
            .Select(m => m!["label"]!.GetValue<string>())
            .ShouldBe(changed is null ? [] : [changed]);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1441)]
    [InlineData(-5)]
    public async Task A_timetable_has_limits(int minutes)
    {
        var response = await _narbit.SendAsync(HttpMethod.Post, "/api/jobs", RunningNarbit.Job("prices-web-shop", everyMinutes: minutes));
        (await RunningNarbit.ProblemAsync(response, HttpStatusCode.UnprocessableEntity))["code"]!
            .GetValue<string>()
            .ShouldBe("timetable.invalid");
    }

    [Fact]
    public async Task A_change_of_a_system_in_two_windows_is_told_to_the_second()
    {
        var system = (await _narbit.GetAsync("/api/systems")).AsArray().Single(s => s!["id"]!.GetValue<string>() == "back-office")!;
        var body = new
        {
            revision = system["revision"]!.GetValue<int>(),
            address = system["address"]!.GetValue<string>(),
            mayRead = true,
            mayWrite = false,
        };
        (await _narbit.SendAsync(HttpMethod.Put, "/api/systems/back-office", body)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (
            await RunningNarbit.ProblemAsync(
                await _narbit.SendAsync(HttpMethod.Put, "/api/systems/back-office", body),
                HttpStatusCode.Conflict
            )
        )["code"]!
            .GetValue<string>()
            .ShouldBe("system.changed");
    }

    [Fact]
    public async Task The_api_describes_itself_and_the_front_end_is_served()
    {
        var document = await _narbit.GetAsync("/openapi/narbit.json");
        document["openapi"]!.GetValue<string>().ShouldStartWith("3.1");
        document["paths"]!.AsObject().Count.ShouldBeGreaterThan(25);
        document["paths"]!["/api/lanes/{id}/rule"]!["put"]!["responses"]!.AsObject().ShouldContainKey("422");
        (await _narbit.Http.GetStringAsync("/")).ShouldContain("<div id=\"root\">");
        (await _narbit.Http.GetStringAsync("/lanes/prices-web-shop/rule")).ShouldContain("<div id=\"root\">");
    }

    [Fact]
    public async Task Pages_that_listen_hear_of_progress()
    {
        await using var connection = new HubConnectionBuilder().WithUrl(new Uri(_narbit.Address, "/live")).Build();
        var heard = new List<string>();
        connection.On<JsonNode>(
            "happened",
            what =>
            {
                lock (heard)
                    heard.Add($"{what["topic"]}:{what["id"]}");
            }
        );
        await connection.StartAsync();
        var run = await _narbit.StartRunAsync("stock-web-shop", preview: true);
        await _narbit.EndedAsync(run);
        await _narbit.UntilAsync(() =>
        {
            lock (heard)
                return Task.FromResult(
                    heard.Contains($"run:{run}") && heard.Contains("read:back-office") && heard.Contains("lane:stock-web-shop")
                );
        });
    }

    [Fact]
    public async Task A_change_set_is_sent_in_part_and_says_so()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.SaveMarkupAsync();
        var older = await narbit.StartRunAsync("prices-web-shop", preview: true);
        await narbit.EndedAsync(older);
        var run = await narbit.StartRunAsync("prices-web-shop", preview: true);
        await narbit.EndedAsync(run);
        var rows = (await narbit.GetAsync($"/api/runs/{run}/writes?show=up&sort=-move&limit=20"))["rows"]!.AsArray();
        rows.Select(r => r!["move"]!.GetValue<double>()).ShouldBeInOrder(SortDirection.Descending);
        var chosen = rows.Where(r => r!["state"]!.GetValue<string>() == "planned")
            .Take(3)
            .Select(r => r!["id"]!.GetValue<long>())
            .ToArray();

        (
            await RunningNarbit.ProblemAsync(
                await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{older}/send", new { all = true }),
                HttpStatusCode.Conflict
            )
        )["code"]!
            .GetValue<string>()
            .ShouldBe("run.superseded");
        (
            await RunningNarbit.ProblemAsync(
                await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/send", new { all = false, only = Array.Empty<long>() }),
                HttpStatusCode.UnprocessableEntity
            )
        )["code"]!
            .GetValue<string>()
            .ShouldBe("send.nothing");
        var sent = await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/send", new { all = false, only = chosen });
        sent.StatusCode.ShouldBe(HttpStatusCode.Accepted, await sent.Content.ReadAsStringAsync());
        var ended = await narbit.EndedAsync(run);
        ended["writes"]!["confirmed"]!.GetValue<int>().ShouldBe(3);
        narbit.Sandbox.Shop.Applied.Count.ShouldBe(3);
        var one = await narbit.GetAsync($"/api/runs/{run}/writes/{chosen[0]}");
        one["fields"]![0]!["trace"]!.AsArray().Count.ShouldBe(8);
        one["confirmedAt"].ShouldNotBeNull();
        (await RunningNarbit.ProblemAsync(await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/again"), HttpStatusCode.Conflict))[
            "code"
        ]!
            .GetValue<string>()
            .ShouldBe("run.notFailed");
        (await narbit.GetAsync("/api/today"))["since"]!["written"]!.GetValue<int>().ShouldBe(3);
    }

    [Fact]
    public async Task A_lane_that_runs_is_not_started_again()
    {
        _narbit.Sandbox.Dials["back-office"].Shares = new FaultShares(LostBefore: 1);
        var first = await _narbit.StartRunAsync("prices-web-shop", preview: true);
        var second = await _narbit.SendAsync(HttpMethod.Post, "/api/lanes/prices-web-shop/runs", new { preview = true });
        (await RunningNarbit.ProblemAsync(second, HttpStatusCode.Conflict))["code"]!.GetValue<string>().ShouldBe("lane.busy");
        _narbit.Sandbox.Dials["back-office"].Shares = new FaultShares();
        await _narbit.EndedAsync(first);
    }
}
