using System.Globalization;
using System.Net;
using System.Text.Json.Nodes;

namespace Narbit.Web.Tests;

/// <summary>One Narbit for all of them; each has lanes of its own.</summary>
public sealed class NarbitWithJobs : IAsyncLifetime
{
    public RunningNarbit Narbit { get; private set; } = null!;

    public async ValueTask InitializeAsync() => Narbit = await RunningNarbit.StartAsync();

    public ValueTask DisposeAsync() => Narbit.DisposeAsync();
}

/// <summary>Jobs by the API: what is asked, what is answered, and what each refusal says.</summary>
public sealed class JobsApiTests(NarbitWithJobs shared) : IClassFixture<NarbitWithJobs>
{
    private const string Lane = "stock-web-shop";
    private readonly RunningNarbit _narbit = shared.Narbit;

    [Fact]
    public async Task A_job_is_looked_at_made_changed_held_in_hand_removed_and_brought_back()
    {
        var look = await PostAsync("/api/jobs/look", new { id = (string?)null, document = Document("Stock", Lane) });
        look["words"]!.GetValue<string>().ShouldBe("It runs every 15 minutes, all day (Europe/Dublin).");
        look["next"]!.AsArray().Count.ShouldBe(5);
        var there = (await _narbit.GetAsync("/api/jobs")).AsArray().Select(j => j!["id"]!.GetValue<string>());
        there.ShouldNotContain("stock", "to look at it makes nothing");

        var made = await PostAsync("/api/jobs", Document("Stock", Lane), HttpStatusCode.Created);
        made["id"]!.GetValue<string>().ShouldBe("stock");
        var job = await _narbit.GetAsync("/api/jobs/stock");
        job["lanes"]!.AsArray().Select(l => l!["id"]!.GetValue<string>()).ShouldBe([Lane]);
        (await _narbit.GetAsync($"/api/lanes/{Lane}"))["job"]!["name"]!.GetValue<string>().ShouldBe("Stock");

        var paused = await PostAsync("/api/jobs/stock/look", new { kind = "pause" });
        paused["next"]!.AsArray().ShouldBeEmpty();
        (await _narbit.GetAsync("/api/jobs/stock"))["paused"]!.GetValue<bool>().ShouldBeFalse();
        await PostAsync("/api/jobs/stock/act", new { kind = "pause" });
        (await _narbit.GetAsync("/api/jobs/stock"))["paused"]!.GetValue<bool>().ShouldBeTrue();
        await PostAsync("/api/jobs/stock/act", new { kind = "goOn" });
        await PostAsync("/api/jobs/stock/act", new { kind = "skip", count = 3 });
        (await _narbit.GetAsync("/api/jobs/stock"))["skipNext"]!.GetValue<int>().ShouldBe(3);

        // Changed in place: what was left out stays so, and the interval is another.
        await SendAsync(HttpMethod.Put, "/api/jobs/stock", Document("Stock", Lane, minutes: 30), HttpStatusCode.NoContent);
        job = await _narbit.GetAsync("/api/jobs/stock");
        (job["skipNext"]!.GetValue<int>(), job["words"]!.GetValue<string>()).ShouldBe(
            (3, "It runs every 30 minutes, all day (Europe/Dublin).")
        );

        await SendAsync(HttpMethod.Delete, "/api/jobs/stock", null, HttpStatusCode.NoContent);
        (await _narbit.GetAsync($"/api/lanes/{Lane}"))["job"].ShouldBeNull();
        await SendAsync(HttpMethod.Post, "/api/jobs/stock/back", null, HttpStatusCode.NoContent);
        (await _narbit.GetAsync($"/api/lanes/{Lane}"))["job"].ShouldNotBeNull();
        await SendAsync(HttpMethod.Delete, "/api/jobs/stock", null, HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task Turns_are_listed_counted_and_lead_to_their_runs()
    {
        await PostAsync("/api/jobs", Document("Market stock", "stock-clay-lane"), HttpStatusCode.Created);
        await PostAsync("/api/jobs", Document("Till stock", "stock-quay-street-till"), HttpStatusCode.Created);
        await PostAsync("/api/jobs/market-stock/act", new { kind = "runNow" });
        await _narbit.UntilAsync(async () => (await TurnsAsync("?Outcome=done&Job=market-stock")).Count == 1);

        var turn = (await TurnsAsync("?Job=market-stock")).Single();
        turn["trigger"]!.GetValue<string>().ShouldBe("person");
        var step = turn["steps"]!.AsArray().Single()!;
        (step["laneId"]!.GetValue<string>(), step["state"]!.GetValue<string>()).ShouldBe(("stock-clay-lane", "done"));
        var run = await _narbit.GetAsync($"/api/runs/{step["runId"]}");
        run["run"]!["job"]!["name"]!.GetValue<string>().ShouldBe("Market stock");
        run["run"]!["looksAt"].ShouldBeNull();
        turn["written"]!.GetValue<int>().ShouldBe(run["run"]!["writes"]!["confirmed"]!.GetValue<int>());

        // By name, kind, system and outcome, past and to come.
        (await TurnsAsync("?Q=market st")).Count.ShouldBe(1);
        (await TurnsAsync("?Q=till st")).ShouldBeEmpty();
        (await TurnsAsync("?Kind=stock&System=clay-lane")).Count.ShouldBe(1);
        (await TurnsAsync("?System=quay-street-till")).ShouldBeEmpty();
        (await TurnsAsync("?Outcome=failed&Q=stock")).ShouldBeEmpty();
        (await TurnsAsync($"?Turn={turn["id"]}")).Count.ShouldBe(1);
        var coming = (await _narbit.GetAsync("/api/timetable/coming?Q=t%20stock&limit=500"))["rows"]!.AsArray();
        coming.Count.ShouldBe(96);
        coming.Select(c => c!["at"]!.GetValue<DateTimeOffset>()).ShouldBeInOrder();
        (await _narbit.GetAsync("/api/timetable/coming?Q=till%20stock&limit=500"))["total"]!.GetValue<int>().ShouldBe(96);

        var today = (await _narbit.GetAsync("/api/jobs/market-stock/history?days=3")).AsArray();
        today.Count.ShouldBe(3);
        (today[2]!["done"]!.GetValue<int>() + today[2]!["waits"]!.GetValue<int>()).ShouldBe(1);
        today[2]!["byClock"]!.GetValue<int>().ShouldBe(0, "a person began it");
        var ribbons = await _narbit.GetAsync("/api/timetable?Q=market%20stock");
        ribbons["jobs"]!.AsArray().Select(j => j!["past"]!.AsArray().Count).Sum().ShouldBe(1);
        ribbons["byHand"]!.AsArray().Select(l => l!.GetValue<string>()).ShouldNotContain("stock-clay-lane");
    }

    [Fact]
    public async Task A_lane_is_left_out_of_its_job_and_taken_in_again()
    {
        await PostAsync("/api/jobs", Document("Left", "prices-clay-lane"), HttpStatusCode.Created);
        await SendAsync(HttpMethod.Put, "/api/lanes/prices-clay-lane/left-out", new { leftOut = true }, HttpStatusCode.NoContent);
        await PostAsync("/api/jobs/left/act", new { kind = "runNow" });
        await _narbit.UntilAsync(async () => (await TurnsAsync("?Outcome=done&Job=left")).Count == 1);
        var step = (await TurnsAsync("?Job=left"))[0]["steps"]!.AsArray().Single()!;
        (step["state"]!.GetValue<string>(), step["why"]!["code"]!.GetValue<string>()).ShouldBe(("leftOut", "lane.leftOut"));
        (await _narbit.GetAsync("/api/lanes/prices-clay-lane"))["nextDueAt"].ShouldBeNull();
        await SendAsync(HttpMethod.Put, "/api/lanes/prices-clay-lane/left-out", new { leftOut = false }, HttpStatusCode.NoContent);
        (await _narbit.GetAsync("/api/lanes/prices-clay-lane"))["nextDueAt"].ShouldNotBeNull();
        await SendAsync(HttpMethod.Put, "/api/lanes/nowhere/left-out", new { leftOut = true }, HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Days_off_are_kept_shown_and_left_out()
    {
        await PostAsync("/api/jobs", Document("Off", "prices-trade-portal"), HttpStatusCode.Created);
        var day = DateTime.UtcNow.AddDays(1).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);
        object[] days = [new { date = day, name = "Stock-taking" }];
        await SendAsync(HttpMethod.Put, "/api/days-off", days, HttpStatusCode.NoContent);
        (await _narbit.GetAsync("/api/days-off")).AsArray().Single()!["name"]!.GetValue<string>().ShouldBe("Stock-taking");
        var ribbon = await _narbit.GetAsync($"/api/timetable?day={day}&Job=off");
        ribbon["off"]!.AsArray().Single()!["date"]!.GetValue<string>().ShouldBe(day);
        ribbon["jobs"]!.AsArray().Single()!["coming"]!.AsArray().ShouldBeEmpty();
        await RefusedAsync(HttpMethod.Put, "/api/days-off", new object[] { days[0], days[0] }, HttpStatusCode.UnprocessableEntity, "twice");
        await SendAsync(HttpMethod.Put, "/api/days-off", Array.Empty<object>(), HttpStatusCode.NoContent);
    }

    [Fact]
    public async Task What_cannot_be_is_refused_in_words()
    {
        await PostAsync("/api/jobs", Document("Kept", "items-clay-lane"), HttpStatusCode.Created);
        foreach (
            var (document, status, words) in new (object, HttpStatusCode, string)[]
            {
                (Document("Again", "items-clay-lane"), HttpStatusCode.Conflict, "is in the job “Kept”; a lane is in one job only"),
                (Document("", "prices-web-shop"), HttpStatusCode.UnprocessableEntity, "give it a name"),
                (Document("None"), HttpStatusCode.UnprocessableEntity, "from 1 to 100 lanes"),
                (Document("Far", "prices-nowhere"), HttpStatusCode.UnprocessableEntity, "there is no lane “prices-nowhere”"),
                (Document("Often", "prices-web-shop", minutes: 0), HttpStatusCode.UnprocessableEntity, "must be from 1 to 1440"),
                (Document("Moon", "prices-web-shop", zone: "Moon/Crater"), HttpStatusCode.UnprocessableEntity, "no time zone"),
            }
        )
            await RefusedAsync(HttpMethod.Post, "/api/jobs", document, status, words);

        await RefusedAsync(
            HttpMethod.Post,
            "/api/jobs/kept/act",
            new { kind = "skip", count = 5000 },
            HttpStatusCode.UnprocessableEntity,
            "1000"
        );
        var past = new { kind = "pause", until = "2020-01-01T00:00:00Z" };
        await RefusedAsync(HttpMethod.Post, "/api/jobs/kept/act", past, HttpStatusCode.UnprocessableEntity, "is over already");
        await PostAsync("/api/jobs/kept/act", new { kind = "switchOff" });
        await RefusedAsync(HttpMethod.Post, "/api/jobs/kept/act", new { kind = "skip" }, HttpStatusCode.Conflict, "switched off");
        await RefusedAsync(HttpMethod.Post, "/api/jobs/nowhere/act", new { kind = "runNow" }, HttpStatusCode.NotFound, "no job");
        await RefusedAsync(HttpMethod.Post, "/api/jobs/kept/act", new { kind = "fly" }, HttpStatusCode.BadRequest, "");
        var copy = new
        {
            name = "Copy",
            from = "web-shop",
            to = "web-shop",
        };
        await RefusedAsync(HttpMethod.Post, "/api/jobs/kept/copy", copy, HttpStatusCode.UnprocessableEntity, "which store is exchanged");
        await RefusedAsync(HttpMethod.Get, "/api/jobs/nowhere/history", null, HttpStatusCode.NotFound, "no job “nowhere”");
    }

    [Fact]
    public async Task A_timetable_is_advised_on_by_the_workspaces_orders_and_by_those_of_a_file()
    {
        var lanes = new[] { "orders-web-shop", Lane, "stock-trade-portal" };
        var document = Document("All", lanes);
        var advice = await PostAsync(
            "/api/jobs/advice",
            new
            {
                id = (string?)null,
                document,
                file = (object?)null,
            }
        );
        advice["options"]!.AsArray().Count.ShouldBe(5);
        var at = new DateTimeOffset(2026, 11, 2, 9, 0, 0, TimeSpan.Zero);
        object Sold(string store, int minutes) =>
            new
            {
                at = at.AddMinutes(minutes),
                store,
                sku = "A",
                quantity = 1,
            };
        var file = new
        {
            from = at,
            stock = new Dictionary<string, int> { ["A"] = 1 },
            orders = new[] { Sold("web-shop", 1), Sold("trade-portal", 7) },
            deliveries = Array.Empty<object>(),
        };
        advice = await PostAsync(
            "/api/jobs/advice",
            new
            {
                id = (string?)null,
                document,
                file,
            }
        );
        // Told every quarter of an hour it sells the one piece twice; told at once it does not.
        advice["options"]!.AsArray().Select(o => o!["oversold"]!.GetValue<int>()).ShouldBe([1, 0, 1, 1, 0]);
        advice["sentence"]!.GetValue<string>().ShouldStartWith("In 60 days this would have oversold once");
        var wrong = new
        {
            id = (string?)null,
            document,
            file = new
            {
                file.from,
                stock = new Dictionary<string, int> { ["A"] = -1 },
                file.orders,
                file.deliveries,
            },
        };
        await RefusedAsync(HttpMethod.Post, "/api/jobs/advice", wrong, HttpStatusCode.UnprocessableEntity, "less than nothing");
    }

    private static object Document(string name, params string[] lanes) => Document(name, lanes, 15, "Europe/Dublin");

    private static object Document(string name, string lane, int minutes = 15, string zone = "Europe/Dublin") =>
        Document(name, [lane], minutes, zone);

    private static object Document(string name, string[] lanes, int minutes, string zone) =>
        new
        {
            name,
            timetable = new { zone, every = new { minutes } },
            lanes = lanes.Select(lane => new { lane }),
        };

    private async Task<List<JsonNode>> TurnsAsync(string query) =>
        [.. (await _narbit.GetAsync($"/api/timetable/turns{query}"))["rows"]!.AsArray().Select(t => t!)];

    private Task<JsonNode> PostAsync(string path, object body, HttpStatusCode expect = HttpStatusCode.OK) =>
        SendAsync(HttpMethod.Post, path, body, expect)!;

    private async Task<JsonNode> SendAsync(HttpMethod method, string path, object? body, HttpStatusCode expect)
    {
        using var answer = await _narbit.SendAsync(method, path, body ?? new { });
        var said = await answer.Content.ReadAsStringAsync();
        answer.StatusCode.ShouldBe(expect, $"{path}: {said}");
        return said.Length == 0 ? new JsonObject() : JsonNode.Parse(said)!;
    }

    private async Task RefusedAsync(HttpMethod method, string path, object? body, HttpStatusCode expect, string words)
    {
        using var answer = method == HttpMethod.Get ? await _narbit.Http.GetAsync(path) : await _narbit.SendAsync(method, path, body!);
        (await RunningNarbit.ProblemAsync(answer, expect))["detail"]!.GetValue<string>().ShouldContain(words);
    }
}
