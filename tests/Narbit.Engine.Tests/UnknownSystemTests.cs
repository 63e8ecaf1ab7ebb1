using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Time.Testing;
using Narbit.Adapters;
using Narbit.Core.Records;
using Narbit.Unknown;

namespace Narbit.Engine.Tests;

/// <summary>What descriptions can say of systems whose habits differ from those of the demo.</summary>
public sealed class UnknownSystemTests
{
    private const string Ledger = """
        { "format": "narbit/rest-system/1", "name": "Harbour Ledger", "kind": "erp", "mark": "HL", "currency": "EUR", "address": "http://x",
          "authentication": { "scheme": "clientCredentials", "token": "TOKEN" },
          "test": { "path": "v2/ping", "namePath": "product" },
          "limits": { "requestsPerSecond": 400, "attempts": 2 },
          "errorPaths": ["problem"],
          "resources": [ { "kind": "item", "label": "articles", "key": "articleNo",
            "list": { "path": "v2/articles", "records": "", "paging": "link", "sizeParameter": "limit", "size": 25 },
            "lookup": { "path": "v2/articles/{key}", "records": "" },
            "find": { "field": "ean", "path": "v2/articles/{key}", "records": "" },
            "write": { "path": "v2/articles/{key}", "method": "PUT" },
            "create": { "path": "v2/articles", "keyInLocation": true },
            "fields": [
              { "name": "ean", "path": "ean", "role": "barcode", "writeAs": "ean" },
              { "name": "title", "path": "designation", "role": "title", "writeAs": "designation" },
              { "name": "price", "path": "netPrice", "type": "money", "role": "price", "writeAs": "netPrice" },
              { "name": "weight", "path": "weightGrams", "type": "weight", "factor": 0.001, "writeAs": "weightGrams" },
              { "name": "depth", "path": "size.depth", "type": "integer", "writeAs": "size.depth" },
              { "name": "width", "path": "size.width", "type": "integer", "writeAs": "size.width" },
              { "name": "shown", "path": "online", "type": "boolean", "role": "published", "writeAs": "online" } ] } ] }
        """;

    private const string Market = """
        { "format": "narbit/rest-system/1", "name": "Tide Market", "kind": "webStore", "mark": "TM", "currency": "EUR",
              "address": "http://x",
          "authentication": { "scheme": "query", "parameter": "access" },
          "test": { "path": "about", "namePath": "shop.title" },
          "limits": { "requestsPerSecond": 400, "attempts": 2 },
          "errorPaths": ["errors.0.message"], "failurePaths": ["errors"],
          "resources": [ { "kind": "item", "label": "offers", "key": "id", "parent": "^id",
            "list": { "path": "graphql", "method": "POST",
              "body": { "query": "query($first:Int,$skip:Int){wares(first:$first,skip:$skip){total nodes{id}}}" },
              "records": "data.wares.nodes", "each": "offers", "paging": "offset", "pageParameter": "variables.skip",
              "sizeParameter": "variables.first", "size": 4, "totalPath": "data.wares.total" },
            "lookup": { "path": "graphql", "method": "POST",
              "body": { "query": "query($ids:[ID!]){wares(ids:$ids){nodes{id}}}" }, "parameter": "variables.ids" },
            "write": { "path": "graphql", "method": "POST", "body": { "query": "mutation($offer:Offer!){saveOffer(offer:$offer){id}}" },
              "record": "variables.offer", "key": "id" },
            "fields": [
              { "name": "sku", "path": "code", "role": "sku" },
              { "name": "title", "path": "^title", "role": "title" },
              { "name": "glaze", "path": "traits.glaze", "role": "option" },
              { "name": "price", "path": "priceCents", "type": "money", "factor": 0.01, "role": "price", "writeAs": "priceCents" },
              { "name": "state", "path": "state", "codes": { "A": "true", "P": "false" }, "type": "boolean", "writeAs": "state" } ] } ] }
        """;

    private static readonly OutboundPolicy Here = new(AllowLoopback: true);

    [Fact]
    public async Task Tokens_are_fetched_once_and_pages_follow_by_their_links()
    {
        await using var ledger = await StartedAsync(new HarbourLedger());
        using var adapter = Of(Ledger, ledger.Address + "/ledger", LedgerClient);
        (await adapter.TestAsync(default)).Message.ShouldContain("as “Harbour Ledger”. articles: 25 read, all as described.");
        var records = await AllAsync(adapter);
        records.Select(r => r.Key).ShouldBe(ledger.Articles.Select(a => a["articleNo"]!.ToString()));
        records[0].Values["weight"].ShouldBe("0.21");
        ledger.TokensGiven.ShouldBe(1);
    }

    [Fact]
    public async Task Instants_may_be_counted_since_1970_read_asked_for_and_written()
    {
        await using var ledger = await StartedAsync(new HarbourLedger());
        var begin = new DateTimeOffset(2026, 11, 28, 9, 0, 0, TimeSpan.Zero);
        for (var i = 0; i < ledger.Articles.Count; i++)
            ledger.Articles[i]["touched"] = begin.AddMinutes(i).ToUnixTimeSeconds();
        var document = JsonNode.Parse(Ledger)!;
        var articles = document["resources"]![0]!;
        (articles["list"]!["changedSince"], articles["list"]!["changedSinceFormat"]) = ("touchedSince", "seconds");
        var touched = """{ "name": "touched", "path": "touched", "type": "instant", "format": "seconds", "writeAs": "touched" }""";
        articles["fields"]!.AsArray().Add(JsonNode.Parse(touched));
        using var adapter = Of(document.ToJsonString(), ledger.Address + "/ledger", LedgerClient);
        (await AllAsync(adapter))[1].Values["touched"].ShouldBe("2026-11-28T09:01:00Z");
        var changed = (await adapter.ReadPageAsync(RecordKind.Item, null, begin.AddMinutes(50), default)).Value;
        changed.Records.Select(r => r.Key).ShouldBe(["H1051", "H1052", "H1053", "H1054", "H1055", "H1056", "H1057"]);
        await adapter.WriteAsync(RecordKind.Item, [Change("H1002", ("touched", "2026-12-01T00:00:00Z"))], default);
        ledger.Articles[1]["touched"]!.ToJsonString().ShouldBe("1796083200");
        ledger.Articles[0]["touched"] = "soon";
        (await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default))
            .Value.Single()
            .Problems.Single()
            .Message.ShouldBe("touched is the text “soon”, where seconds since 1970 was expected");
    }

    [Theory]
    [InlineData("{\"token\": \"SERVER/sign-in/token\", \"clientInBody\": true, \"scope\": \"all\"}")]
    [InlineData("{\"token\": \"../sign-in/token\"}")]
    public async Task The_client_may_be_named_in_the_body_and_the_place_by_a_path(string signIn)
    {
        await using var ledger = await StartedAsync(new HarbourLedger());
        var document = JsonNode.Parse(Ledger)!.AsObject();
        foreach (var (name, value) in JsonNode.Parse(signIn.Replace("SERVER", ledger.Address, StringComparison.Ordinal))!.AsObject())
            document["authentication"]![name] = value?.DeepClone();
        using var adapter = Of(document.ToJsonString(), ledger.Address + "/ledger", LedgerClient);
        (await AllAsync(adapter)).Count.ShouldBe(57);
    }

    [Fact]
    public async Task A_token_is_renewed_before_it_ends_and_when_the_system_forgot_it()
    {
        await using var ledger = await StartedAsync(new HarbourLedger { TokenSeconds = 600 });
        var clock = new FakeTimeProvider(DateTimeOffset.UnixEpoch.AddYears(56));
        using var adapter = Of(Ledger, ledger.Address + "/ledger", LedgerClient, clock);
        await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default);
        ledger.TokensGiven.ShouldBe(1);
        clock.Advance(TimeSpan.FromSeconds(535));
        await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default);
        ledger.TokensGiven.ShouldBe(1);
        clock.Advance(TimeSpan.FromSeconds(10));
        await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default);
        ledger.TokensGiven.ShouldBe(2, "a minute before it ends");
        ledger.ForgetTokens();
        (await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default)).Value.Single().Key.ShouldBe("H1001");
        ledger.TokensGiven.ShouldBe(1, "a new one, after the old ones were forgotten");
    }

    [Fact]
    public async Task A_place_for_tokens_that_answers_nonsense_is_said_in_words()
    {
        await using var ledger = await StartedAsync(new HarbourLedger());
        async Task<string> SaidAsync(IResult? nonsense, Credential? client)
        {
            ledger.Nonsense = nonsense;
            using var adapter = Of(Ledger, ledger.Address + "/ledger", client);
            return (await adapter.LookUpAsync(RecordKind.Item, ["H1001"], default)).Fault!.Words;
        }

        (await SaidAsync(null, new Credential("narbit", "wrong"))).ShouldBe(
            "Harbour Ledger gives no token for this client (401: “Nobody here by that name.”). "
                + "Enter its name and secret again under Systems."
        );
        (await SaidAsync(null, null)).ShouldContain("for a client's name and secret. Enter them");
        (await SaidAsync(Results.Content("<h1>Hello</h1>", "text/html"), LedgerClient)).ShouldContain("answered, but not with JSON");
        (await SaidAsync(Results.Json(new { token = "x" }), LedgerClient)).ShouldContain("answered without an access_token");
        (await SaidAsync(Results.Json(new { access_token = "x", expires_in = 0 }), LedgerClient)).ShouldContain("has ended already");
        (await SaidAsync(Results.Redirect("http://elsewhere.example/"), LedgerClient)).ShouldContain(
            "redirect (302), which Narbit does not"
        );
        (await SaidAsync(Results.StatusCode(503), LedgerClient)).ShouldContain("failed (503)");
        (await SaidAsync(Results.Text(new string('x', 300_000)), LedgerClient)).ShouldContain("could not be asked");
    }

    [Fact]
    public async Task One_record_a_request_is_written_read_back_and_created()
    {
        await using var ledger = await StartedAsync(new HarbourLedger());
        using var adapter = Of(Ledger, ledger.Address + "/ledger", LedgerClient);
        var kind = adapter.Kinds.Single();
        (kind.BatchSize, kind.Updates, kind.Creates, kind.Ends, kind.FoundBy).ShouldBe((20, true, true, false, "ean"));

        var answers = await adapter.WriteAsync(
            RecordKind.Item,
            [
                Change("H1001", ("price", "19.9"), ("depth", "12"), ("width", "7"), ("shown", "false")),
                Change("H9999", ("price", "1")),
                Change("H1002", ("price", "-1")),
                Change("H1003", ("weight", null)),
            ],
            default
        );
        answers.Select(a => a.Fate).ShouldBe([WriteFate.Accepted, WriteFate.Refused, WriteFate.Refused, WriteFate.Accepted]);
        answers[2].Why!.Words.ShouldBe("Harbour Ledger rejected the request (422): “A price below nothing.”.");
        ledger.Articles[0]["size"]!.ToJsonString().ShouldBe("""{"depth":12,"width":7}""");
        var back = await adapter.LookUpAsync(RecordKind.Item, ["H1001", "H9999", "H1003"], default);
        back.Value.Select(r => r.Key).ShouldBe(["H1001", "H1003"]);
        (back.Value[0].Values["price"], back.Value[0].Values["depth"], back.Value[0].Values["shown"]).ShouldBe(("19.9", "12", "false"));
        back.Value[1].Values.ShouldNotContainKey("weight");

        var made = await adapter.WriteAsync(
            RecordKind.Item,
            [Change("new", ("title", "Ash glaze"), ("price", "8")) with { Act = WriteAct.Create }],
            default
        );
        (made[0].Fate, made[0].NewKey).ShouldBe((WriteFate.Accepted, "H1058"));
        ledger.Articles[^1]["designation"]!.ToString().ShouldBe("Ash glaze");
    }

    [Fact]
    public async Task A_system_that_is_asked_in_GraphQL_is_read_looked_up_and_written()
    {
        await using var market = await StartedAsync(new TideMarket());
        using var adapter = Of(Market, market.Address, new Credential(null, TideMarket.Key));
        var records = await AllAsync(adapter);
        records.Count.ShouldBe(market.Stall.Sum(w => w["offers"]!.AsArray().Count));
        (records[0].Parent, records[0].Values["price"], records[0].Values["glaze"]).ShouldBe(("W1", "13.14", "celadon"));

        var found = await adapter.LookUpAsync(RecordKind.Item, ["100", "201"], default);
        found.Value.Select(r => r.Key).Intersect(["100", "201"]).Count().ShouldBe(2);

        var answers = await adapter.WriteAsync(
            RecordKind.Item,
            [Change("100", ("price", "23.45"), ("state", "false")), Change("nobody", ("price", "1"))],
            default
        );
        answers.Select(a => a.Fate).ShouldBe([WriteFate.Accepted, WriteFate.Refused]);
        answers[1].Why!.Words.ShouldContain("“There is no offer nobody.”");
        (market.Offer("100")["priceCents"]!.ToString(), market.Offer("100")["state"]!.ToString()).ShouldBe(("2345", "P"));
    }

    [Fact]
    public async Task Replies_in_XML_and_CSV_are_read_like_any_other()
    {
        await using var market = await StartedAsync(new TideMarket());
        var key = new Credential(null, TideMarket.Key);
        using var xml = Of(
            Feed("xml", "feed.xml", "feed.ware", "offer", "@id", "^title", "price.#text", total: "feed.@count"),
            market.Address,
            key
        );
        var offers = await AllAsync(xml);
        offers.Select(o => o.Key).ShouldBe(market.Stall.SelectMany(w => w["offers"]!.AsArray()).Select(o => o!["id"]!.ToString()));
        (offers[0].Values["title"], offers[0].Values["price"]).ShouldBe(("Kiln shelf no. 1", "13.14"));

        using var csv = Of(Feed("csv", "feed.csv", "", null, "id", "title", "price"), market.Address, key);
        var rows = await csv.ReadPageAsync(RecordKind.Item, null, null, default);
        (rows.Value.Records[0].Values["title"], rows.Value.Records[0].Values["price"]).ShouldBe(
            ("Kiln shelf no. 1; Moor Pottery", "13.14")
        );
    }

    [Theory]
    [InlineData("<!DOCTYPE feed [<!ENTITY a \"b\">]><feed>&a;</feed>", "DTD")]
    [InlineData("<feed><ware>", "breaks off")]
    [InlineData("no XML at all", "not with XML that can be read")]
    [InlineData("<other/>", "without the list “feed.ware”")]
    public async Task XML_that_is_not_what_it_should_be_is_said_in_words(string content, string said)
    {
        await using var market = await StartedAsync(new TideMarket { Instead = _ => Results.Content(content, "application/xml") });
        var document = Feed("xml", "feed.xml", "feed.ware", "offer", "@id", "^title", "price");
        using var adapter = Of(document, market.Address, null);
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Fault!.Words.ShouldContain(said, Case.Insensitive);
    }

    [Fact]
    public async Task A_feed_with_nothing_in_it_is_empty_and_one_entry_is_a_list()
    {
        var content = "<feed count=\"0\"></feed>";
        await using var market = await StartedAsync(new TideMarket { Instead = _ => Results.Content(content, "application/xml") });
        using var adapter = Of(Feed("xml", "feed.xml", "feed.ware", null, "@id", "title", "price"), market.Address, null);
        (await AllAsync(adapter)).ShouldBeEmpty();
        content = "<feed count=\"1\"><ware id=\"1\"><title>Mug</title><price>250</price></ware></feed>";
        (await AllAsync(adapter)).Single().Values["price"].ShouldBe("2.5");
    }

    [Fact]
    public async Task Lists_may_go_on_after_the_last_key()
    {
        await using var market = await StartedAsync(new TideMarket());
        var document = JsonNode.Parse(Feed("json", "keyset", "offers", null, "id", "code", "priceCents"))!;
        document["resources"]![0]!["list"] = JsonNode.Parse(
            """{ "path": "keyset", "records": "offers", "paging": "lastKey", "pageParameter": "after", "size": 10 }"""
        );
        using var adapter = Of(document.ToJsonString(), market.Address, null);
        var records = await AllAsync(adapter);
        records.Count.ShouldBe(market.Stall.Sum(w => w["offers"]!.AsArray().Count));
        records.Select(r => r.Key).ShouldBeUnique();
    }

    [Fact]
    public async Task A_link_that_leads_elsewhere_is_not_followed()
    {
        await using var market = await StartedAsync(
            new TideMarket
            {
                Instead = http =>
                {
                    http.Response.Headers.Link = "<http://elsewhere.example/feed>; rel=\"next\"";
                    return Results.Json(new { offers = new[] { new { id = "1" } } });
                },
            }
        );
        var document = JsonNode.Parse(Feed("json", "keyset", "offers", null, "id", "code", "priceCents"))!;
        document["resources"]![0]!["list"] = JsonNode.Parse("""{ "path": "keyset", "records": "offers", "paging": "link" }""");
        using var adapter = Of(document.ToJsonString(), market.Address, null);
        var page = await adapter.ReadPageAsync(RecordKind.Item, null, null, default);
        page.Fault!.Code.ShouldBe("read.elsewhere");
        page.Fault.Words.ShouldContain("http://elsewhere.example/feed, which is not below its address");
    }

    [Fact]
    public async Task A_system_that_says_how_many_requests_are_left_is_not_asked_until_it_must_refuse()
    {
        await using var market = await StartedAsync(
            new TideMarket
            {
                Instead = http =>
                {
                    http.Response.Headers["Left"] = "0";
                    http.Response.Headers["Again"] = "30";
                    return Results.Json(new { offers = Array.Empty<object>() });
                },
            }
        );
        var clock = new FakeTimeProvider(DateTimeOffset.UnixEpoch.AddYears(56));
        var document = JsonNode.Parse(Feed("json", "keyset", "offers", null, "id", "code", "priceCents"))!;
        document["limits"] = JsonNode.Parse("""{ "requestsPerSecond": 400, "remainingHeader": "Left", "resetHeader": "Again" }""");
        using var adapter = Of(document.ToJsonString(), market.Address, null, clock);
        await adapter.ReadPageAsync(RecordKind.Item, null, null, default);
        var second = adapter.ReadPageAsync(RecordKind.Item, null, null, default);
        clock.Advance(TimeSpan.FromSeconds(29));
        second.IsCompleted.ShouldBeFalse();
        market.Served.ShouldBe(1);
        clock.Advance(TimeSpan.FromSeconds(1));
        (await second).Fault.ShouldBeNull();
        market.Served.ShouldBe(2);
    }

    [Theory]
    [InlineData("authentication.scheme", "\"query\"", "authentication.parameter: name the parameter")]
    [InlineData("authentication.token", "null", "authentication.token: say where tokens are fetched")]
    [InlineData("resources.0.list.body", "{}", "resources[0].list.method: a call with a body is no GET")]
    [InlineData("resources.0.write.path", "\"v2/articles\"", "resources[0].write.path: say with {key} where")]
    [InlineData("resources.0.create.keyInLocation", "false", "")]
    [InlineData("resources.0.find", "null", "resources[0].create: needs an idempotency key")]
    [InlineData("resources.0.write.records", "\"all\"", "resources[0].write: a call that takes several records needs results")]
    [InlineData("resources.0.list.paging", "\"offset\"", "resources[0].list.pageParameter: say which parameter")]
    public void What_a_description_lacks_is_said_by_its_place(string at, string value, string said)
    {
        var document = JsonNode.Parse(Ledger.Replace("TOKEN", "sign-in/token", StringComparison.Ordinal))!;
        var here = document;
        var names = at.Split('.');
        foreach (var name in names[..^1])
            here = int.TryParse(name, out var place) ? here![place] : here![name];
        here![names[^1]] = JsonNode.Parse(value);
        (SystemDocument.Read(document.ToJsonString()).Fault?.Words ?? "").ShouldStartWith(said);
    }

    private static Credential LedgerClient => new(HarbourLedger.Client, HarbourLedger.Secret);

    private static string Feed(
        string form,
        string path,
        string records,
        string? each,
        string key,
        string title,
        string price,
        string? total = null
    ) =>
        $$"""
            { "format": "narbit/rest-system/1", "name": "Tide feed", "kind": "webStore", "mark": "TF", "currency": "EUR",
              "address": "http://x",
              "replies": "{{form}}", "test": { "path": "about" }, "limits": { "requestsPerSecond": 400, "attempts": 1 },
              "resources": [ { "kind": "item", "label": "offers", "key": "{{key}}",
                "list": { "path": "{{path}}", "records": "{{records}}", {{(
                each is null ? "" : $"\"each\": \"{each}\","
            )}} "paging": "offset",
                  "pageParameter": "start", "sizeParameter": "count", "size": 7 {{(
                total is null ? "" : $", \"totalPath\": \"{total}\""
            )}} },
                "fields": [ { "name": "title", "path": "{{title}}", "role": "title" },
                            { "name": "price", "path": "{{price}}", "type": "money", "factor": 0.01, "role": "price" } ] } ] }
            """;

    private static RecordWrite Change(string key, params (string Field, string? Value)[] values) =>
        new(key, $"once-{key}", values.ToDictionary(v => v.Field, v => v.Value));

    private static async Task<T> StartedAsync<T>(T server)
        where T : UnknownServer
    {
        await server.StartAsync();
        return server;
    }

    private static IAdapter Of(string document, string address, Credential? credential, TimeProvider? clock = null)
    {
        var origin = new Uri(address).GetLeftPart(UriPartial.Authority);
        var text = document.Replace("TOKEN", $"{origin}/sign-in/token", StringComparison.Ordinal);
        var read = SystemDocument.Read(text);
        read.Fault?.Words.ShouldBeNull();
        return read.Value.Adapter(address, credential, Here, clock ?? TimeProvider.System).Value;
    }

    private static async Task<List<ReadRecord>> AllAsync(IAdapter adapter)
    {
        var records = new List<ReadRecord>();
        string? cursor = null;
        do
        {
            var page = await adapter.ReadPageAsync(RecordKind.Item, cursor, null, default);
            page.Fault?.Words.ShouldBeNull();
            records.AddRange(page.Value.Records);
            cursor = page.Value.Next;
        } while (cursor is not null);
        return records;
    }
}
