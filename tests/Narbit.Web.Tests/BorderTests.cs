using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.EntityFrameworkCore;

namespace Narbit.Web.Tests;

/// <summary>Who is let in, what leaves, and what a system's description cannot do.</summary>
[Collection("one Narbit")]
public sealed class BorderTests(ApiFixture fixture)
{
    private const string Shop = "/api/systems/web-shop";
    private readonly RunningNarbit _narbit = fixture.Narbit;

    [Theory]
    [InlineData("GET", "/api/today")]
    [InlineData("GET", "/")]
    [InlineData("GET", "/openapi/narbit.json")]
    [InlineData("POST", "/api/lanes/prices-web-shop/runs")]
    [InlineData("POST", "/live/negotiate?negotiateVersion=1")]
    public async Task A_host_that_is_not_meant_reads_and_writes_nothing(string method, string path)
    {
        // Any page can make a name of its own resolve to this machine.
        var answer = await AskAsync(method, path, ("Host", $"narbit.elsewhere.example:{_narbit.Address.Port}"));
        var problem = await RunningNarbit.ProblemAsync(answer, HttpStatusCode.MisdirectedRequest);
        problem["code"]!.GetValue<string>().ShouldBe("request.misdirected");
        problem["detail"]!.GetValue<string>().ShouldContain("--host narbit.elsewhere.example");
    }

    [Theory]
    [InlineData("localhost")]
    [InlineData("LOCALHOST")]
    [InlineData("127.0.0.1")]
    [InlineData("[::1]")]
    public async Task The_names_of_this_machine_to_itself_are_served(string host) =>
        (await AskAsync("GET", "/api/lanes", ("Host", $"{host}:{_narbit.Address.Port}"))).StatusCode.ShouldBe(HttpStatusCode.OK);

    [Theory]
    [InlineData("Origin", "http://elsewhere.example")]
    [InlineData("Origin", "null")]
    [InlineData("Origin", "http://127.0.0.1:1")]
    [InlineData("Sec-Fetch-Site", "cross-site")]
    [InlineData("Sec-Fetch-Site", "same-site")]
    public async Task A_page_from_elsewhere_can_neither_write_nor_upload_nor_listen(string header, string value)
    {
        foreach (var path in new[] { "/api/lanes/prices-web-shop/runs", "/api/couples/1/table", "/live/negotiate?negotiateVersion=1" })
        {
            var answer = await AskAsync("POST", path, (header, value));
            (await RunningNarbit.ProblemAsync(answer, HttpStatusCode.BadRequest))["detail"]!
                .GetValue<string>()
                .ShouldBe("This request came from another page and was refused.");
        }

        // A socket is opened by a GET.
        (await AskAsync("GET", "/live?id=1", (header, value))).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        await using var live = new HubConnectionBuilder()
            .WithUrl(
                new Uri(_narbit.Address, "/live"),
                o =>
                {
                    o.SkipNegotiation = true;
                    o.Transports = Microsoft.AspNetCore.Http.Connections.HttpTransportType.WebSockets;
                    o.Headers[header] = value;
                }
            )
            .Build();
        await Should.ThrowAsync<Exception>(() => live.StartAsync());
    }

    [Fact]
    public async Task Its_own_pages_write_upload_and_listen()
    {
        var origin = ("Origin", _narbit.Address.GetLeftPart(UriPartial.Authority));
        (await AskAsync("POST", "/live/negotiate?negotiateVersion=1", origin, ("Sec-Fetch-Site", "same-origin"))).StatusCode.ShouldBe(
            HttpStatusCode.OK
        );
        // A table is taken in, and refused for what it lacks.
        using var table = new MultipartFormDataContent { { new StringContent("sku\nA\n"), "file", "pairs.csv" } };
        using var upload = new HttpRequestMessage(HttpMethod.Post, "/api/couples/1/table") { Content = table };
        upload.Headers.Add(origin.Item1, origin.Item2);
        var refused = await RunningNarbit.ProblemAsync(await _narbit.Http.SendAsync(upload), HttpStatusCode.UnprocessableEntity);
        refused["code"]!.GetValue<string>().ShouldBe("table.columnMissing");
    }

    [Theory]
    [InlineData(40, true, HttpStatusCode.UnprocessableEntity)]
    [InlineData(104, true, HttpStatusCode.RequestEntityTooLarge)]
    [InlineData(104, false, HttpStatusCode.RequestEntityTooLarge)]
    public async Task A_large_table_is_taken_and_one_that_is_too_large_refused_in_words(int megabytes, bool asks, HttpStatusCode status)
    {
        using var file = new ByteArrayContent(new byte[megabytes << 20]);
        using var form = new MultipartFormDataContent { { file, "file", "pairs.csv" } };
        using var upload = new HttpRequestMessage(HttpMethod.Post, "/api/couples/1/table") { Content = form };
        upload.Headers.ExpectContinue = asks;
        var problem = await RunningNarbit.ProblemAsync(await _narbit.Http.SendAsync(upload), status);
        problem["detail"]!.GetValue<string>().ShouldNotBeEmpty();
    }

    [Theory]
    [InlineData("GET", "/api/today", 200)]
    [InlineData("GET", "/api/systems/none/document", 404)]
    [InlineData("GET", "/nothing/here.txt", 404)]
    public async Task Every_answer_has_its_security_headers_the_mistaken_ones_too(string method, string path, int status)
    {
        var answer = await AskAsync(method, path);
        ((int)answer.StatusCode).ShouldBe(status);
        answer.Headers.GetValues("Content-Security-Policy").Single().ShouldStartWith("default-src 'self'");
        answer.Headers.GetValues("X-Content-Type-Options").Single().ShouldBe("nosniff");
        if (path.StartsWith("/api/", StringComparison.Ordinal))
            answer.Headers.CacheControl!.NoStore.ShouldBeTrue("what is somebody's stays in no store");
        answer.Headers.GetValues("Referrer-Policy").Single().ShouldBe("same-origin");
    }

    [Fact]
    public async Task A_mistake_of_Narbits_own_says_so_and_keeps_the_headers()
    {
        await _narbit.StoredAsync(db =>
            db.Database.ExecuteSqlRawAsync("CREATE TRIGGER NoSystem BEFORE UPDATE ON Systems BEGIN SELECT RAISE(ABORT, 'broken'); END")
        );
        try
        {
            var answer = await AskAsync("POST", $"{Shop}/test");
            var problem = await RunningNarbit.ProblemAsync(answer, HttpStatusCode.InternalServerError);
            problem.ToJsonString().ShouldNotContain("broken");
            answer.Headers.GetValues("Content-Security-Policy").ShouldHaveSingleItem();
        }
        finally
        {
            await _narbit.StoredAsync(db => db.Database.ExecuteSqlRawAsync("DROP TRIGGER NoSystem"));
        }
    }

    [Fact]
    public async Task A_changed_origin_asks_for_the_secret_anew_and_a_changed_path_does_not()
    {
        var shop = (await SystemAsync())!;
        var address = new Uri(shop["address"]!.GetValue<string>());
        foreach (var elsewhere in new[] { "http://shop.elsewhere.example/", $"http://127.0.0.1:{address.Port + 1}/web-shop/" })
        {
            var problem = await RunningNarbit.ProblemAsync(await ChangeAsync(elsewhere), HttpStatusCode.Conflict);
            problem["code"]!.GetValue<string>().ShouldBe("credential.needed");
        }

        var below = new Uri(address, "/web-shop/second/").ToString();
        (await ChangeAsync(below)).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await ChangeAsync(address.ToString())).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await SystemAsync())["hasCredential"]!.GetValue<bool>().ShouldBeTrue();
    }

    [Fact]
    public async Task A_description_that_leads_elsewhere_is_refused_with_its_path()
    {
        var document = JsonNode.Parse(await _narbit.Http.GetStringAsync($"{Shop}/document"))!;
        document["resources"]![0]!["write"]!["path"] = "http://elsewhere.example/take";
        var shop = await SystemAsync();
        var answer = await ChangeAsync(shop["address"]!.GetValue<string>(), document.ToJsonString());
        var problem = await RunningNarbit.ProblemAsync(answer, HttpStatusCode.UnprocessableEntity);
        problem["detail"]!.GetValue<string>().ShouldStartWith("resources[0].write.path:");
    }

    [Fact]
    public async Task Nothing_that_is_not_at_work_is_stopped()
    {
        var run = await _narbit.StartRunAsync("stock-web-shop", preview: true);
        await _narbit.EndedAsync(run);
        var problem = await RunningNarbit.ProblemAsync(await AskAsync("POST", $"/api/runs/{run}/stop"), HttpStatusCode.Conflict);
        problem["code"]!.GetValue<string>().ShouldBe("run.notWorking");
        problem = await RunningNarbit.ProblemAsync(await AskAsync("POST", $"{Shop}/read/stop"), HttpStatusCode.Conflict);
        problem["code"]!.GetValue<string>().ShouldBe("read.notReading");
    }

    [Theory]
    [InlineData("""{ "kind": "stock", "rule": {} }""", "this lane is about prices, and the document about stock levels")]
    [InlineData("""{ "kind": "weather", "rule": {} }""", "document cannot be read")]
    [InlineData("""{ "rule": {} }""", "does not say with “kind” what it is")]
    [InlineData("""{ "kind": "price", "map": {} }""", "map")]
    public async Task A_document_that_is_not_the_lanes_is_refused_in_words(string document, string words)
    {
        var body = $$"""{ "baseNumber": 1, "document": {{document}} }""";
        var answer = await _narbit.Http.PutAsync(
            "/api/lanes/prices-web-shop/rule",
            new StringContent(body, Encoding.UTF8, "application/json")
        );
        ((int)answer.StatusCode).ShouldBeInRange(400, 422);
        JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["detail"]!.GetValue<string>().ShouldContain(words);
    }

    private async Task<JsonNode> SystemAsync() =>
        (await _narbit.GetAsync("/api/systems")).AsArray().Single(s => s!["id"]!.GetValue<string>() == "web-shop")!;

    private async Task<HttpResponseMessage> ChangeAsync(string address, string? document = null) =>
        await _narbit.SendAsync(
            HttpMethod.Put,
            Shop,
            new
            {
                revision = (await SystemAsync())["revision"]!.GetValue<int>(),
                address,
                mayRead = true,
                mayWrite = true,
                document,
            }
        );

    private async Task<HttpResponseMessage> AskAsync(string method, string path, params (string Name, string Value)[] headers)
    {
        var request = new HttpRequestMessage(new HttpMethod(method), path);
        foreach (var (name, value) in headers)
            request.Headers.TryAddWithoutValidation(name, value);
        return await _narbit.Http.SendAsync(request);
    }
}
