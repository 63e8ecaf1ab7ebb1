using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Rest;
using Narbit.Core.Records;
using Narbit.Unknown;

namespace Narbit.Engine.Tests;

/// <summary>Systems that nobody has described: what is proposed of them, from a call, a pasted reply or a contract.</summary>
public sealed class DescribingTests
{
    private static readonly OutboundPolicy Here = new(AllowLoopback: true);

    [Fact]
    public async Task A_list_that_is_called_is_proposed_with_how_it_goes_on_and_how_one_record_is_read()
    {
        await using var ledger = new HarbourLedger();
        await ledger.StartAsync();
        var signIn = new RestAuthentication { Scheme = RestScheme.ClientCredentials, Token = $"{ledger.Address}/sign-in/token" };
        var probe = Probe(ledger.Address + "/ledger", signIn, new Credential(HarbourLedger.Client, HarbourLedger.Secret));
        var articles = (await probe.ListAsync(new RestList { Path = "v2/articles" }, null, default)).Value;
        var resource = articles.Resource;
        (resource.Kind, resource.Key, resource.List.Records, resource.List.Paging).ShouldBe(
            (RecordKind.Item, "articleNo", "", RestPaging.Link)
        );
        (resource.Lookup!.Path, resource.Lookup.Records).ShouldBe(("v2/articles/{key}", ""));
        Roles(articles)
            .ShouldBe([
                ("articleNo", FieldRole.Sku, FieldType.Text),
                ("designation", FieldRole.Title, FieldType.Text),
                ("ean", FieldRole.Barcode, FieldType.Text),
                ("maker", FieldRole.Brand, FieldType.Text),
                ("netPrice", FieldRole.Price, FieldType.Money),
                ("online", FieldRole.Published, FieldType.Boolean),
                ("purchasePrice", FieldRole.Cost, FieldType.Money),
                ("vatRate", FieldRole.TaxRate, FieldType.Percent),
                ("weightGrams", FieldRole.Weight, FieldType.Weight),
            ]);
        articles.Fields.Single(f => f.Role == FieldRole.Weight).Factor.ShouldBe(0.001m);
        articles.Fields.Single(f => f.Path == "modifiedAt").Type.ShouldBe(FieldType.Instant);
        articles
            .Fields.Single(f => f.Role == FieldRole.Barcode)
            .Reasons[^1]
            .ShouldBe("digits with a right check digit in 20 of 20: barcode");
        articles.Remarks.ShouldContain("one record is read at v2/articles/{key}: asked for H1001, and it came");

        var stock = (await probe.ListAsync(new RestList { Path = "v2/stock" }, null, default)).Value;
        (stock.Resource.Kind, stock.Resource.Key, stock.Resource.Parent).ShouldBe((RecordKind.StockLevel, "levelId", "articleNo"));
        Roles(stock)
            .Select(f => f.Item2)
            .ShouldBe([FieldRole.Item, FieldRole.OnHand, FieldRole.Allocated, FieldRole.Location], ignoreOrder: true);
    }

    [Fact]
    public async Task Offsets_are_found_out_by_asking_and_variants_by_what_is_in_them()
    {
        await using var market = new TideMarket();
        await market.StartAsync();
        var probe = Probe(market.Address, new RestAuthentication(), null);
        var feed = (await probe.ListAsync(new RestList { Path = "feed.xml" }, null, default)).Value;
        var list = feed.Resource.List;
        (feed.Replies, list.Records, list.Each, list.Paging, list.PageParameter).ShouldBe(
            (ReplyForm.Xml, "feed.ware", "offer", RestPaging.Offset, "start")
        );
        (list.SizeParameter, list.Size, list.TotalPath).ShouldBe(("count", 23, "feed.@count"));
        (feed.Resource.Key, feed.Resource.Parent).ShouldBe(("@id", "^@id"));
        feed.Fields.Single(f => f.Role == FieldRole.Title).Path.ShouldBe("^title");
        feed.Fields.Single(f => f.Role == FieldRole.Price).Path.ShouldBe("price.#text");
    }

    [Fact]
    public async Task A_list_that_is_asked_for_in_GraphQL_is_proposed_from_its_reply()
    {
        await using var market = new TideMarket();
        await market.StartAsync();
        var signIn = new RestAuthentication { Scheme = RestScheme.Query, Parameter = "access" };
        var body = JsonSerializer.SerializeToElement(
            new { query = "query($first:Int,$skip:Int){wares(first:$first,skip:$skip){total nodes{id}}}" }
        );
        var probe = Probe(market.Address, signIn, new Credential(null, TideMarket.Key));
        var list = new RestList
        {
            Path = "graphql",
            Method = "POST",
            Body = body,
        };
        var wares = (await probe.ListAsync(list, null, default)).Value;
        (wares.Resource.List.Records, wares.Resource.List.Each, wares.Resource.List.TotalPath).ShouldBe(
            ("data.wares.nodes", "offers", "data.wares.total")
        );
        (wares.Resource.List.Paging, wares.Resource.List.PageParameter, wares.Resource.List.SizeParameter).ShouldBe(
            (RestPaging.Offset, "variables.skip", "variables.first")
        );
        wares.Entries.ShouldBe(market.Stall.Count);
        wares.Resource.List.Body!.Value.GetRawText().ShouldBe(body.GetRawText());
        var price = wares.Fields.Single(f => f.Role == FieldRole.Price);
        (price.Path, price.Type, price.Factor).ShouldBe(("priceCents", FieldType.Money, 0.01m));
        wares.Fields.Single(f => f.Role == FieldRole.OnHand).Path.ShouldBe("available");
        wares.Fields.Single(f => f.Role == FieldRole.Sku).Path.ShouldBe("code");
    }

    [Fact]
    public async Task A_contract_says_where_to_sign_in_what_is_listed_and_how_it_is_written()
    {
        await using var ledger = new HarbourLedger();
        await ledger.StartAsync();
        var text = await Probe(ledger.Address + "/ledger", new RestAuthentication(), null).ContractAsync("openapi.json", default);
        var proposal = ContractReading.Of(text.Value).Value;
        (proposal.Name, proposal.Address, proposal.TestPath).ShouldBe(("Harbour Ledger", ledger.Address + "/ledger/", "v2/ping"));
        (proposal.Authentication.Scheme, proposal.Authentication.Token).ShouldBe(
            (RestScheme.ClientCredentials, $"{ledger.Address}/sign-in/token")
        );
        proposal.Resources.Select(r => r.Resource.Kind).ShouldBe([RecordKind.Item, RecordKind.StockLevel]);
        var articles = proposal.Resources[0].Resource;
        (articles.Key, articles.List.Paging, articles.List.SizeParameter, articles.List.Size).ShouldBe(
            ("articleNo", RestPaging.Link, "limit", 25)
        );
        (articles.Write!.Method, articles.Write.Path, articles.Lookup!.Path).ShouldBe(("PUT", "v2/articles/{key}", "v2/articles/{key}"));
        var price = articles.Fields.Single(f => f.Role == FieldRole.Price);
        (price.WriteAs, price.Required, price.Type).ShouldBe(("netPrice", true, FieldType.Money));
        articles.Fields.Single(f => f.Role == FieldRole.Title).MaxLength.ShouldBe(80);
        articles.Fields.Single(f => f.Path == "modifiedAt").WriteAs.ShouldBeNull();

        var yaml = await Probe(ledger.Address + "/ledger", new RestAuthentication(), null).ContractAsync("openapi.yaml", default);
        ContractReading.Of(yaml.Value).Value.Resources.Single().Resource.Key.ShouldBe("articleNo");
        var none = await Probe(ledger.Address + "/ledger", new RestAuthentication(), null).ContractAsync("nowhere.yaml", default);
        none.Fault!.Code.ShouldBe("notFound");

        // What it is taken for can be worked with as it is.
        var document = Document(proposal.Resources.Select(r => r.Resource), proposal.Authentication);
        using var adapter = SystemDocument
            .Read(document)
            .Value.Adapter(proposal.Address!, new Credential(HarbourLedger.Client, HarbourLedger.Secret), Here, TimeProvider.System)
            .Value;
        (await adapter.TestAsync(default)).Message.ShouldContain(
            "items: 25 read, all as described. stock levels: 25 read, all as described."
        );

        var trial = new TrialWrite((RestAdapter)adapter, RecordKind.Item);
        var shown = (await trial.ShowAsync("H1003", price.Name, "99.5", default)).Value;
        (shown.Before, shown.Request.Method, shown.Request.Path, shown.Request.Body).ShouldBe(
            ("11.05", "PUT", "v2/articles/H1003", """{"netPrice":99.5}""")
        );
        ledger.Articles[2]["netPrice"]!.GetValue<decimal>().ShouldBe(11.05m);
        var tried = (await trial.TryAsync("H1003", price.Name, "99.5", default)).Value;
        tried.Steps.Select(s => s.Words).ShouldBe(["“99.5” was written, and read back.", "“11.05” was put back, and read back."]);
        ledger.Articles[2]["netPrice"]!.GetValue<decimal>().ShouldBe(11.05m);
        var refused = (await trial.TryAsync("H1003", price.Name, "-1", default)).Value;
        (refused.Ok, refused.Steps.Count).ShouldBe((false, 1));
        refused.Steps[0].Words.ShouldContain("was not written: The system rejected the request (422)");
        (await trial.ShowAsync("H1003", "modifiedAt", "x", default)).Fault!.Code.ShouldBe("trial.notWritable");
        (await trial.ShowAsync("nobody", price.Name, "1", default)).Fault!.Code.ShouldBe("trial.noRecord");
    }

    [Fact]
    public void A_contract_may_be_YAML()
    {
        const string Yaml = """
            openapi: 3.0.3
            info: { title: Moor Goods, version: '1' }
            paths:
              /goods:
                get:
                  parameters:
                    - { name: page, in: query, schema: { type: integer } }
                  responses:
                    '200':
                      content:
                        application/json:
                          schema:
                            type: object
                            properties:
                              pages: { type: integer }
                              goods:
                                type: array
                                items:
                                  type: object
                                  properties: { id: { type: integer }, gtin: { type: string }, name: { type: string } }
            """;
        var goods = ContractReading.Of(Yaml).Value.Resources.Single().Resource;
        (goods.List.Records, goods.List.Paging, goods.List.PagesPath, goods.Key).ShouldBe(("goods", RestPaging.Page, "pages", "id"));
    }

    [Fact]
    public void A_line_without_anything_on_it_is_no_record_of_a_reply() =>
        ResourceReading.OfText("items", "id,price\n1,2.50\n\n,\n2,3\n").Value.Entries.ShouldBe(2);

    [Theory]
    [InlineData("[1, 2]", "contract.unreadable")]
    [InlineData("{ \"swagger\": \"2.0\" }", "contract.old")]
    [InlineData("{ \"hello\": 1 }", "contract.none")]
    [InlineData("{ \"openapi\": \"3.1.0\", \"paths\": { \"/x\": { \"get\": {} } } }", "contract.noLists")]
    [InlineData("{ broken", "contract.unreadable")]
    [InlineData("a: &a [*a, *a]", "contract.unreadable")]
    public void What_is_no_contract_is_said_in_words(string text, string code) => ContractReading.Of(text).Fault!.Code.ShouldBe(code);

    [Fact]
    public void A_contract_that_refers_to_itself_without_end_is_read_to_its_end()
    {
        const string Circle = """
            { "openapi": "3.1.0", "paths": { "/things": { "get": { "responses": { "200": { "content": { "application/json": { "schema": {
              "type": "array", "items": { "$ref": "#/components/schemas/A" } } } } } } } } },
              "components": { "schemas": {
                "A": { "allOf": [ { "$ref": "#/components/schemas/B" } ],
                  "properties": { "id": { "type": "string" }, "of": { "$ref": "#/components/schemas/A" } } },
                "B": { "allOf": [ { "$ref": "#/components/schemas/A" } ], "properties": { "c": { "$ref": "#/components/schemas/C" } } },
                "C": { "$ref": "#/components/schemas/C" } } } }
            """;
        ContractReading.Of(Circle).Value.Resources.Single().Resource.Key.ShouldBe("id");
    }

    [Fact]
    public void A_contract_of_20_MB_is_refused_in_words() =>
        ContractReading.Of(new string(' ', 20 * 1024 * 1024)).Fault!.Words.ShouldContain("more than 16 MB");

    [Theory]
    [InlineData("""{ "A": { "x": 1 }, "B": { "x": 2 }, "C": { "x": 3 } }""", "sample.keys")]
    [InlineData("""{ "hello": "there" }""", "sample.noList")]
    [InlineData("""[ { "name": "same" }, { "name": "same" } ]""", "sample.noKey")]
    [InlineData("{ broken", "sample.unreadable")]
    [InlineData("<a><b></a>", "sample.unreadable")]
    public void A_sample_that_says_too_little_is_said_in_words(string reply, string code) =>
        ResourceReading.OfText("things", reply).Fault!.Code.ShouldBe(code);

    [Fact]
    public void Keys_that_differ_in_each_record_are_seen()
    {
        var records = new JsonArray([
            .. Enumerable
                .Range(0, 100)
                .Select(n => new JsonObject
                {
                    ["id"] = n,
                    [$"f{n}a"] = 1,
                    [$"f{n}b"] = 2,
                    [$"f{n}c"] = 3,
                }),
        ]);
        ResourceReading.OfText("things", records.ToJsonString()).Fault!.Code.ShouldBe("sample.keys");
    }

    [Fact]
    public void A_single_record_mixed_types_and_lists_in_lists_are_remarked_on()
    {
        var single = ResourceReading.OfText("products", """[ { "id": 1, "name": "Mug", "tags": [["a"], ["b"]] } ]""").Value;
        single.Remarks.ShouldContain("there is a single record in it, which says little; look at every field, or give a sample with more");
        single.Resource.Fields.Select(f => f.Path).ShouldBe(["id", "name"]);
        var mixed = ResourceReading.OfText("products", """[ { "id": 1, "size": 4 }, { "id": 2, "size": "L" } ]""").Value;
        mixed.Remarks.ShouldContain(r => r.StartsWith("“size” is a number in some records", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_system_that_refuses_is_told_in_its_own_words()
    {
        await using var market = new TideMarket { Instead = _ => Results.StatusCode(500) };
        await market.StartAsync();
        var probe = Probe(market.Address, new RestAuthentication(), null);
        (await probe.ListAsync(new RestList { Path = "feed.csv" }, null, default)).Fault!.Code.ShouldBe("serverError");
        (await probe.ListAsync(new RestList { Path = "nowhere" }, null, default)).Fault!.Code.ShouldBe("notFound");
    }

    private static List<(string, FieldRole, FieldType)> Roles(ResourceProposal proposal) =>
        [
            .. proposal
                .Fields.Where(f => f.Role != FieldRole.None)
                .Select(f => (f.Path, f.Role, f.Type))
                .OrderBy(f => f.Path, StringComparer.Ordinal),
        ];

    private static string Document(IEnumerable<RestResource> resources, RestAuthentication signIn) =>
        JsonSerializer.Serialize(Unnamed(signIn) with { Resources = [.. resources] }, JsonSerializerOptions.Web);

    private static RestDocument Unnamed(RestAuthentication signIn) =>
        new()
        {
            Format = RestDocument.CurrentFormat,
            Name = "The system",
            Kind = SystemKind.Erp,
            Mark = "TS",
            Currency = "EUR",
            Address = "http://x",
            Authentication = signIn,
            Test = new RestProbe("v2/ping"),
            Limits = new RestLimits { RequestsPerSecond = 400, Attempts = 1 },
            ErrorPaths = ["problem"],
            Resources = [],
        };

    [Fact]
    public async Task A_page_named_in_the_path_is_how_the_list_goes_on()
    {
        await using var office = new SlipwayOffice();
        await office.StartAsync();
        var probe = Probe(office.Address + "/office/", new RestAuthentication(), null);
        var jobs = (await probe.ListAsync(new RestList { Path = "jobs?page=1&order=-touched" }, null, default)).Value;
        var list = jobs.Resource.List;
        (list.Path, list.Paging, list.PageParameter, list.FirstPage).ShouldBe(("jobs?order=-touched", RestPaging.Page, "page", 1));
        (list.TotalPath, list.Size).ShouldBe(("count", 5));
        var last = (await probe.ListAsync(new RestList { Path = "jobs?page=5" }, null, default)).Value;
        last.Resource.List.Path.ShouldBe("jobs?page=5", "where it does not help, it stays");
        last.Remarks[^1].ShouldBe("it says that it has 23, of which 3 came; no other page was found: say below how it goes on");
    }

    [Fact]
    public async Task A_list_at_a_path_of_its_own_is_proposed_from_the_first_records_that_have_one()
    {
        await using var office = new SlipwayOffice { LinesOf = n => n < 3 ? 0 : n };
        await office.StartAsync();
        var probe = Probe(office.Address + "/office/", new RestAuthentication(), null);
        var jobs = (await probe.ListAsync(new RestList { Path = "jobs?page=1" }, null, default)).Value.Resource;
        var lines = new RestChildren
        {
            Name = "lines",
            Path = "lines",
            Role = ListRole.Lines,
            List = new RestList { Path = "jobs/{key}/lines" },
            Fields = [],
        };
        var proposal = (await probe.InsideAsync(jobs, lines, default)).Value;
        (proposal.Entries, proposal.Records, proposal.Inside.List!.Paging, proposal.Inside.List.Records).ShouldBe(
            (6, 5, RestPaging.Link, "")
        );
        proposal.Inside.Fields.Select(f => (f.Path, f.Role)).ShouldBe([("code", FieldRole.Sku), ("pcs", FieldRole.Quantity)]);
        var nowhere = lines with { List = new RestList { Path = "jobs/{key}/parts" } };
        (await probe.InsideAsync(jobs, nowhere, default)).Fault!.Words.ShouldBe(
            "None of the first 5 records has such a list at jobs/{key}/parts. Look at the path, or describe it by hand."
        );
    }

    private static SystemProbe Probe(string address, RestAuthentication signIn, Credential? credential) =>
        new(Unnamed(signIn), new Uri(address), credential, Here, TimeProvider.System);
}
