using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace Narbit.Web.Tests;

public sealed class PairFixture : IAsyncLifetime
{
    public RunningNarbit Narbit { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Narbit = await RunningNarbit.StartAsync(items: 600);

    public ValueTask DisposeAsync() => Narbit.DisposeAsync();
}

public sealed class PairApiTests(PairFixture fixture) : IClassFixture<PairFixture>
{
    private readonly RunningNarbit _narbit = fixture.Narbit;

    [Fact]
    public async Task The_counts_lead_to_as_many_records()
    {
        var couple = await _narbit.CoupleAsync("clay-lane");
        foreach (var show in new[] { "certain", "likely", "ambiguous", "none", "paired", "setAside" })
            (await RowsAsync(couple, $"show={show}&limit=1"))["total"]!
                .GetValue<int>()
                .ShouldBe(couple["counts"]![show]!.GetValue<int>(), show);
        var causes = (await _narbit.GetAsync($"/api/couples/{couple["id"]}/causes")).AsArray();
        causes.Count.ShouldBeGreaterThan(4);
        foreach (var cause in causes)
            (await RowsAsync(couple, $"cause={cause!["cause"]}&limit=1"))["total"]!
                .GetValue<int>()
                .ShouldBe(cause["count"]!.GetValue<int>(), cause["words"]!.GetValue<string>());
    }

    [Fact]
    public async Task A_record_has_its_seam_its_candidates_and_the_whole_other_side()
    {
        var couple = await _narbit.CoupleAsync("trade-portal");
        var row = (await RowsAsync(couple, "show=likely&limit=1"))["rows"]![0]!;
        var seam = await _narbit.GetAsync($"/api/couples/{couple["id"]}/seam?hub={row["hubKey"]}&other={row["otherKey"]}");
        seam["rows"]!.AsArray().Select(r => r!["label"]!.GetValue<string>()).ShouldContain("Barcode");
        seam["evidence"]!.AsArray().ShouldContain(e => e!["effect"]!.GetValue<string>() == "for");
        seam["candidates"]![0]!["key"]!.GetValue<string>().ShouldBe(row["otherKey"]!.GetValue<string>());
        var found = await _narbit.GetAsync($"/api/couples/{couple["id"]}/search?side=hub&text=500 celadon");
        found["total"]!.GetValue<int>().ShouldBeGreaterThan(0);
        found["rows"]!.AsArray().ShouldAllBe(r => r!["caption"]!.GetValue<string>().Contains("Celadon"));
        (await _narbit.GetAsync($"/api/couples/{couple["id"]}/search?side=other&text=%25"))["total"]!.GetValue<int>().ShouldBe(0);
    }

    [Fact]
    public async Task Decisions_survive_and_refusals_name_what_is_in_the_way()
    {
        var couple = await _narbit.CoupleAsync("quay-street-till");
        var id = couple["id"]!.GetValue<long>();
        var row = (await RowsAsync(couple, "show=certain&limit=1"))["rows"]![0]!;
        var accept = new
        {
            decisions = new[]
            {
                new
                {
                    act = "accept",
                    hubKey = row["hubKey"]!.GetValue<string>(),
                    otherKey = row["otherKey"]!.GetValue<string>(),
                },
            },
        };
        (await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/decisions", accept)).StatusCode.ShouldBe(HttpStatusCode.OK);
        // Another window decides the same record.
        var problem = await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/decisions", accept),
            HttpStatusCode.Conflict
        );
        problem["detail"]!.GetValue<string>().ShouldContain("Ines O. decided this record");
        (await _narbit.GetAsync($"/api/couples/{id}/decisions")).AsArray().ShouldHaveSingleItem()!["words"]!
            .GetValue<string>()
            .ShouldContain("paired with");

        var all = await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{id}/decisions/all",
                new
                {
                    act = "accept",
                    show = "certain",
                    expected = 3,
                }
            ),
            HttpStatusCode.Conflict
        );
        all["detail"]!.GetValue<string>().ShouldContain("not 3");
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/decisions", new { decisions = Array.Empty<object>() }),
            HttpStatusCode.UnprocessableEntity
        );
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, "/api/couples/999/decisions", accept),
            HttpStatusCode.NotFound
        );
        (await _narbit.SendAsync(HttpMethod.Delete, $"/api/couples/{id}/decisions")).EnsureSuccessStatusCode();
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/commit", new { only = (long[]?)null, note = (string?)null }),
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Theory]
    [InlineData("pairs.csv", "sku\nA\n", "line 1 has no column “hub_key”")]
    [InlineData("pairs.xlsx", "PK nonsense", "is no workbook")]
    [InlineData("pairs.pdf", "x", "what it holds is told by its ending")]
    public async Task A_file_that_is_no_pair_table_is_refused(string name, string content, string message)
    {
        var id = (await _narbit.CoupleAsync("clay-lane"))["id"];
        using var form = new MultipartFormDataContent();
        using var file = new ByteArrayContent(Encoding.UTF8.GetBytes(content));
        form.Add(file, "file", name);
        var problem = await RunningNarbit.ProblemAsync(
            await _narbit.Http.PostAsync($"/api/couples/{id}/table", form),
            HttpStatusCode.UnprocessableEntity
        );
        problem["detail"]!.GetValue<string>().ShouldContain(message);
    }

    [Fact]
    public async Task A_kit_table_comes_in_as_a_file_and_pairs_go_out_as_csv_and_xlsx()
    {
        var id = (await _narbit.CoupleAsync("clay-lane"))["id"];
        using var form = new MultipartFormDataContent();
        using var file = new ByteArrayContent(
            await new HttpClient().GetByteArrayAsync(new Uri(_narbit.Sandbox.Address, "clay-lane/kits.csv"))
        );
        form.Add(file, "file", "kits.csv");
        var reply = await _narbit.Http.PostAsync($"/api/couples/{id}/table", form);
        var report = (await reply.Content.ReadFromJsonAsync<JsonNode>())!;
        report["faults"]!.AsArray().ShouldBeEmpty(report.ToJsonString());
        report["taken"]!.GetValue<int>().ShouldBe(3);
        (
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/commit", new { only = (long[]?)null, note = "kits" })
        ).EnsureSuccessStatusCode();

        var csv = await _narbit.Http.GetAsync($"/api/couples/{id}/table?form=csv");
        csv.Content.Headers.ContentDisposition!.FileName.ShouldBe("pairs-clay-lane.csv");
        (await csv.Content.ReadAsStringAsync()).ShouldContain("KIT-CLS-10,clay-lane,10");
        var xlsx = await _narbit.Http.GetAsync($"/api/couples/{id}/table?form=xlsx");
        xlsx.Content.Headers.ContentType.ShouldBe(
            new MediaTypeHeaderValue("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
        );
        (await xlsx.Content.ReadAsByteArrayAsync())[..2].ShouldBe("PK"u8.ToArray());
        (await _narbit.Http.GetStringAsync($"/api/couples/{id}/readiness/table?form=csv")).ShouldContain("SKU missing");
    }

    [Fact]
    public async Task Closing_is_seen_on_today_and_refuses_to_send()
    {
        var id = (await _narbit.CoupleAsync("web-shop"))["id"];
        (await _narbit.SendAsync(HttpMethod.Put, $"/api/couples/{id}/closed", new { closed = true })).EnsureSuccessStatusCode();
        await _narbit.UntilMismatchAsync(
            "cause=lane.closed&lane=prices-web-shop",
            rows => rows.Count == 1 && rows[0]!["words"]!.GetValue<string>() == "Nothing of this lane is sent while Ines O. pairs"
        );
        var problem = await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, "/api/lanes/prices-web-shop/runs", new { preview = false }),
            HttpStatusCode.Conflict
        );
        problem["code"]!.GetValue<string>().ShouldBe("lane.closed");
        (await _narbit.SendAsync(HttpMethod.Put, $"/api/couples/{id}/closed", new { closed = false })).EnsureSuccessStatusCode();
        await _narbit.UntilMismatchAsync("cause=lane.closed", rows => rows.Count == 0);
    }

    [Fact]
    public async Task An_item_shows_its_listings()
    {
        var item = (await _narbit.GetAsync("/api/items/10002"))["item"]!;
        item["listings"]!
            .AsArray()
            .ShouldContain(l => l!["systemId"]!.GetValue<string>() == "web-shop" && l["by"]!.GetValue<string>() == "Pairing");
        item["levels"]!.AsArray().Count.ShouldBe(3);
        await RunningNarbit.ProblemAsync(await _narbit.Http.GetAsync("/api/items/none"), HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task A_batch_says_who_decided_what_from_which_evidence_and_is_undone()
    {
        var id = (await _narbit.CoupleAsync("trade-portal", "customer"))["id"]!.GetValue<long>();
        var certain = (await _narbit.CoupleAsync("trade-portal", "customer"))["counts"]!["certain"]!.GetValue<int>();
        (
            await _narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{id}/decisions/all",
                new
                {
                    act = "accept",
                    show = "certain",
                    expected = certain,
                }
            )
        ).EnsureSuccessStatusCode();
        var withdrawn = await (
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/decisions/withdraw")
        ).Content.ReadFromJsonAsync<JsonNode>();
        withdrawn!["decision"]!["act"]!.GetValue<string>().ShouldBe("accept");
        var commit = await (
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/commit", new { only = (long[]?)null, note = "customers" })
        ).Content.ReadFromJsonAsync<JsonNode>();
        commit!["committed"]!.GetValue<int>().ShouldBe(certain - 1);

        var batch = (await _narbit.GetAsync($"/api/couples/{id}/batches"))[0]!;
        batch["note"]!.GetValue<string>().ShouldBe("customers");
        var decisions = (await _narbit.GetAsync($"/api/couples/{id}/decisions?batch={batch["id"]}")).AsArray();
        decisions.Count.ShouldBe(certain - 1);
        decisions[0]!["by"]!.GetValue<string>().ShouldBe("Ines O.");
        decisions[0]!["evidence"]!.GetValue<string>().ShouldContain("on both sides");
        var key = decisions[0]!["hubKey"]!.GetValue<string>();
        (await _narbit.GetAsync($"/api/couples/{id}/decisions?key={key}")).AsArray().ShouldHaveSingleItem();

        (await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/batches/{batch["id"]}/undo")).EnsureSuccessStatusCode();
        (await _narbit.CoupleAsync("trade-portal", "customer"))["counts"]!["paired"]!.GetValue<int>().ShouldBe(0);
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(HttpMethod.Post, $"/api/couples/{id}/batches/{batch["id"]}/undo"),
            HttpStatusCode.Conflict
        );
    }

    [Fact]
    public async Task Readiness_groups_lead_to_their_lines()
    {
        var id = (await _narbit.CoupleAsync("web-shop"))["id"];
        var view = await _narbit.GetAsync($"/api/couples/{id}/readiness");
        view["groups"]!.AsArray().Count.ShouldBeGreaterThan(5);
        foreach (var group in view["groups"]!.AsArray())
            (await _narbit.GetAsync($"/api/couples/{id}/readiness/lines?system={group!["system"]!["id"]}&cause={group["cause"]}"))["total"]!
                .GetValue<int>()
                .ShouldBe(group["count"]!.GetValue<int>());
        var lines = (await _narbit.GetAsync($"/api/couples/{id}/readiness/lines?system=back-office&cause=skuMissing&pattern=NEW-{{key}}"))[
            "rows"
        ]!.AsArray();
        lines
            .Select(l => l!["proposal"]?.GetValue<string>())
            .ShouldContain(p => p == null || p.StartsWith("NEW-", StringComparison.Ordinal) || p.Length > 0);
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{id}/readiness/corrections",
                new { systemId = "web-shop", corrections = Array.Empty<object>() }
            ),
            HttpStatusCode.UnprocessableEntity
        );
        await RunningNarbit.ProblemAsync(
            await _narbit.SendAsync(
                HttpMethod.Post,
                $"/api/couples/{id}/readiness/corrections",
                new
                {
                    systemId = "back-office",
                    corrections = new[]
                    {
                        new
                        {
                            key = "10018",
                            field = "cost",
                            value = "1",
                        },
                    },
                }
            ),
            HttpStatusCode.UnprocessableEntity
        );
    }

    private Task<JsonNode> RowsAsync(JsonNode couple, string query) => _narbit.GetAsync($"/api/couples/{couple["id"]}/rows?{query}");
}
