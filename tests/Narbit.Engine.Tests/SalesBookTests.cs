using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox;
using Narbit.Sandbox.BackOffice;
using Narbit.Sandbox.Demo;

namespace Narbit.Engine.Tests;

/// <summary>The back office's book and the stores' orders, over real HTTP: what they take, what they refuse, what they do twice.</summary>
public sealed class SalesBookTests
{
    [Fact]
    public async Task The_same_seed_gives_the_same_orders_and_every_trouble_is_there_twice()
    {
        var catalogue = Catalogue.Generate(240);
        var (one, other) = (OrderBooks.Generate(catalogue, 400, 7), OrderBooks.Generate(catalogue, 400, 7));
        foreach (var (mine, theirs) in new[] { (one.Shop, other.Shop), (one.Portal, other.Portal), (one.Market, other.Market) })
            System.Text.Json.JsonSerializer.Serialize(mine).ShouldBe(System.Text.Json.JsonSerializer.Serialize(theirs));
        (one.Shop.Count + one.Portal.Count + one.Market.Count).ShouldBe(400);
        one.Troubles.ShouldNotBeEmpty();
        one.Troubles.ShouldAllBe(t => t.Keys.Count >= 2);
        foreach (var trouble in one.Troubles.Where(t => t.System == "web-shop"))
            trouble.Keys.ShouldBeSubsetOf(one.Shop.Select(o => o.Id));
        one.Shop.ShouldAllBe(o => o.PlacedAt >= Catalogue.Day.AddDays(-60) && o.PlacedAt < Catalogue.Day);

        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 240, Orders: 1_000));
        sandbox.Orders.Shop.All.Count.ShouldBe(550);
    }

    [Fact]
    public async Task A_document_is_made_once_for_each_key_and_lays_its_goods_aside()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 40));
        using var office = Office(sandbox);
        var article = sandbox.Catalogue.Articles.First(a => a.Stock.Count > 0).Number;
        var before = Allocated(sandbox, article);
        var first = await MadeAsync(office, Document(sandbox, "W1", "key-1", article));
        var again = await MadeAsync(office, Document(sandbox, "W1", "key-1", article));
        (first["state"]!.GetValue<string>(), again["documentNo"]!.GetValue<string>()).ShouldBe(
            ("saved", first["documentNo"]!.GetValue<string>())
        );
        Allocated(sandbox, article).ShouldBe(before + 2);
        sandbox.Orders.Book.Documents.Count.ShouldBe(1);

        // The same number under another key is refused with the document that has it.
        var twice = await MadeAsync(office, Document(sandbox, "W1", "key-2", article));
        twice["state"]!.GetValue<string>().ShouldBe("refused");
        twice["message"]!
            .GetValue<string>()
            .ShouldBe($"There is a document with the external number W1: {first["documentNo"]!.GetValue<string>()}.");
        var found = await office.GetFromJsonAsync<JsonNode>("v1/documents?external=W1,W2");
        found!["data"]!.AsArray().ShouldHaveSingleItem()!["lines"]!.AsArray().Count.ShouldBe(1);

        // Taken out while nothing was done with it, its goods are free again.
        sandbox.Orders.Book.Remove(first["documentNo"]!.GetValue<string>(), "key-3").ShouldBeNull();
        Allocated(sandbox, article).ShouldBe(before);
        var next = await MadeAsync(office, Document(sandbox, "W2", "key-4", article));
        next["documentNo"]!.GetValue<string>().ShouldNotBe(first["documentNo"]!.GetValue<string>());
    }

    public static TheoryData<string, Action<JsonObject>> Wrong =>
        new()
        {
            { "A document needs its external number.", d => d["externalNo"] = "" },
            { "There is no customer 1.", d => d["customerNo"] = "1" },
            { "A document needs lines.", d => d["lines"] = new JsonArray() },
            { "There is no article 9.", d => d["lines"]![0]!["articleNo"] = "9" },
            { "Net and tax of a line are not its gross.", d => d["lines"]![0]!["gross"] = 99 },
            {
                "There is no payment type “shells”",
                d => d["payments"] = new JsonArray(new JsonObject { ["type"] = "shells", ["amount"] = 1 })
            },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task What_does_not_fit_is_refused_with_its_reason(string words, Action<JsonObject> spoil)
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 12));
        using var office = Office(sandbox);
        var document = Document(sandbox, "W1", "key", sandbox.Catalogue.Articles[0].Number);
        spoil(document);
        var answer = await MadeAsync(office, document);
        answer["state"]!.GetValue<string>().ShouldBe("refused");
        answer["message"]!.GetValue<string>().ShouldStartWith(words);
        sandbox.Orders.Book.Documents.ShouldBeEmpty();
    }

    [Fact]
    public async Task What_was_shipped_or_credited_stays_in_the_book()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 12));
        using var office = Office(sandbox);
        var book = sandbox.Orders.Book;
        var article = sandbox.Catalogue.Articles[0].Number;
        var number = (await MadeAsync(office, Document(sandbox, "W1", "key", article)))["documentNo"]!.GetValue<string>();
        book.Ship(number, all: false, "Moor Post", "MP1").ShouldBeNull();
        book.Remove(number, null)!.ShouldContain("partShipped");
        book.Cancel(number)!.ShouldContain("only an open one");
        book.Ship("1", all: true, "", "").ShouldBe("There is no document 1.");

        var credit = new OfficeCredit
        {
            Number = "",
            ExternalNumber = "W1/1",
            Document = number,
            Lines = [new("goods", article, "", 1, 10, 10, 2, 12, 20)],
        };
        var (made, refusal) = book.Create(credit, "c");
        refusal.ShouldBeNull();
        book.Create(credit, "c").Number.ShouldBe(made);
        book.Create(credit, "d").Refusal.ShouldBe($"There is a credit note with the external number W1/1: {made}.");
        book.Create(credit with { ExternalNumber = "W9/1", Document = "9" }, "e").Refusal.ShouldBe("There is no document 9.");
        book.Create(credit with { ExternalNumber = "W1/2", Lines = [] }, "f").Refusal.ShouldBe("A credit note needs lines.");
    }

    [Fact]
    public async Task A_store_s_orders_come_in_pages_by_change_and_by_id_and_hear_of_each_thing_once()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 240, ShopRequestsPerSecond: 2000));
        using var shop = new HttpClient { BaseAddress = new Uri(sandbox.Address, "/web-shop/") };
        shop.DefaultRequestHeaders.Authorization = new("Basic", Convert.ToBase64String("narbit:shopfront-demo"u8));
        var page = await shop.GetFromJsonAsync<JsonNode>("api/orders?page=3&per_page=100");
        page!["orders"]!.AsArray().Count.ShouldBe(20);
        (page["pages"]!.GetValue<int>(), page["total"]!.GetValue<int>()).ShouldBe((3, 220));

        var told = 0;
        sandbox.Orders.Shop.Changed += _ => told++;
        var update = new JsonObject
        {
            ["updates"] = new JsonArray(
                new JsonObject
                {
                    ["id"] = 30_005,
                    ["request_key"] = "once",
                    ["state"] = "accepted",
                    ["office_number"] = "70001",
                },
                new JsonObject { ["id"] = 1, ["request_key"] = "other" }
            ),
        };
        for (var n = 0; n < 2; n++)
        {
            var answer = await (await shop.PostAsJsonAsync("api/orders/batch", update)).Content.ReadFromJsonAsync<JsonNode>();
            answer!["results"]![0]!["status"]!.GetValue<string>().ShouldBe("ok");
        }

        told.ShouldBe(1);
        var changed = await shop.GetFromJsonAsync<JsonNode>(
            $"api/orders?updated_after={Uri.EscapeDataString(Catalogue.Day.ToString("O"))}"
        );
        var one = changed!["orders"]!.AsArray().ShouldHaveSingleItem()!;
        (one["state"]!.GetValue<string>(), one["office_number"]!.GetValue<string>()).ShouldBe(("accepted", "70001"));
        (await shop.PostAsync("api/orders/batch", new StringContent("no"))).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    private static HttpClient Office(SandboxHost sandbox)
    {
        var office = new HttpClient { BaseAddress = new Uri(sandbox.Address, "/back-office/") };
        office.DefaultRequestHeaders.Add("X-Api-Key", BackOfficeApi.ApiKey);
        return office;
    }

    private static int Allocated(SandboxHost sandbox, string article) => sandbox.Office.Find(article)!.Stock.Values.Sum(s => s.Allocated);

    private static JsonObject Document(SandboxHost sandbox, string external, string key, string article) =>
        new()
        {
            ["externalNo"] = external,
            ["requestKey"] = key,
            ["customerNo"] = sandbox.Orders.Book.Customers[0].Number,
            ["placedAt"] = "2026-11-20T10:00:00Z",
            ["lines"] = new JsonArray(
                new JsonObject
                {
                    ["kind"] = "goods",
                    ["articleNo"] = article,
                    ["quantity"] = 2,
                    ["unitPrice"] = 5,
                    ["net"] = 10,
                    ["tax"] = 2,
                    ["gross"] = 12,
                    ["taxRate"] = 20,
                }
            ),
            ["payments"] = new JsonArray(new JsonObject { ["type"] = "card", ["amount"] = 12 }),
        };

    private static async Task<JsonNode> MadeAsync(HttpClient office, JsonObject document)
    {
        var body = new JsonObject { ["updates"] = new JsonArray(document.DeepClone()) };
        var answer = await office.PostAsJsonAsync("v1/documents/new", body);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        return (await answer.Content.ReadFromJsonAsync<JsonNode>())!["data"]!.AsArray().ShouldHaveSingleItem()!;
    }
}
