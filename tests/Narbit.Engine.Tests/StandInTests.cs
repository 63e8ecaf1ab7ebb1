using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox;
using Narbit.Sandbox.Demo;

namespace Narbit.Engine.Tests;

/// <summary>The stand-ins are what everything else is tested against, so they are tested themselves.</summary>
public sealed class StandInTests
{
    [Fact]
    public void The_same_seed_gives_the_same_bytes()
    {
        JsonSerializer.Serialize(Catalogue.Generate(700)).ShouldBe(JsonSerializer.Serialize(Catalogue.Generate(700)));
        JsonSerializer.Serialize(Catalogue.Generate(700, seed: 2)).ShouldNotBe(JsonSerializer.Serialize(Catalogue.Generate(700)));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(600)]
    [InlineData(5000)]
    public void The_catalogue_has_as_many_items_as_asked_for(int items)
    {
        var catalogue = Catalogue.Generate(items);
        catalogue.Articles.Count.ShouldBe(items);
        catalogue.Articles.Select(a => a.Number).Distinct().Count().ShouldBe(items);
        var variants = catalogue.Products.SelectMany(p => p.Variants).ToList();
        variants.Select(v => v.Id).Distinct().Count().ShouldBe(variants.Count);
        variants.Count.ShouldBeLessThanOrEqualTo(items);
    }

    [Fact]
    public void The_demo_is_of_the_size_of_a_shop()
    {
        var catalogue = Catalogue.Generate();
        catalogue.Articles.Count.ShouldBe(600);
        catalogue.Articles.Select(a => a.GroupCode).Distinct().Count().ShouldBeInRange(230, 300);
    }

    [Fact]
    public void Every_trouble_is_there_at_least_twice_and_its_records_are_named()
    {
        var catalogue = Catalogue.Generate();
        catalogue.Troubles.Count.ShouldBeGreaterThan(14);
        foreach (var trouble in catalogue.Troubles)
        {
            trouble.Keys.Count.ShouldBeGreaterThanOrEqualTo(2, trouble.Name);
            foreach (var key in trouble.Keys)
                Known(trouble.System, key).ShouldBeTrue($"{trouble.Name} {key}");
        }
    }

    private static bool Known(string system, string key)
    {
        var catalogue = Catalogue.Generate();
        return system switch
        {
            "back-office" => catalogue.Articles.Any(a => a.Number == key) || catalogue.Further.Customers.Any(c => c.Number == key),
            "web-shop" => catalogue.Products.SelectMany(p => p.Variants).Any(v => v.Id.ToString(CultureInfo.InvariantCulture) == key),
            "till" => catalogue.Further.Till.Any(l => l.Id == key),
            "trade-portal" => catalogue.Further.Portal.Any(l => l.Id == key),
            _ => catalogue.Further.Market.Any(l => l.Id == key),
        };
    }

    [Fact]
    public void Barcodes_have_right_check_digits_but_for_those_that_are_wrong_on_purpose()
    {
        var catalogue = Catalogue.Generate();
        var wrong = catalogue.Articles.Where(a => !CheckDigitHolds(a.Barcode)).Select(a => a.Number);
        wrong.ShouldBe(catalogue.Troubles.Single(t => t is { Name: "barcode with a wrong check digit", System: "back-office" }).Keys);
        catalogue.Articles.ShouldAllBe(a => a.Barcode.StartsWith("952", StringComparison.Ordinal) && a.Barcode.Length == 13);
    }

    [Fact]
    public async Task The_back_office_pages_by_cursor_over_everything_exactly_once()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 230));
        using var http = Office(sandbox);
        var seen = new List<string>();
        string? cursor = null;
        do
        {
            var page = (await http.GetFromJsonAsync<JsonNode>($"v1/articles?limit=50{(cursor is null ? "" : $"&after={cursor}")}"))!;
            seen.AddRange(page["data"]!.AsArray().Select(a => a!["articleNo"]!.GetValue<string>()));
            cursor = page["next"]?.GetValue<string>();
        } while (cursor is not null);
        seen.ShouldBe(sandbox.Catalogue.Articles.Select(a => a.Number));
    }

    [Fact]
    public async Task The_back_office_wants_its_key_and_a_real_instant()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 10));
        using var stranger = new HttpClient { BaseAddress = new Uri(sandbox.Address, "back-office/") };
        (await stranger.GetAsync("v1/articles")).StatusCode.ShouldBe(HttpStatusCode.Unauthorized);
        using var http = Office(sandbox);
        (await http.GetAsync("v1/articles?modifiedSince=yesterday")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task The_web_shop_answers_429_above_its_rate_and_says_when_to_come_back()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 10, ShopRequestsPerSecond: 3));
        using var http = Shop(sandbox);
        var answers = await Task.WhenAll(Enumerable.Range(0, 20).Select(_ => http.GetAsync("api/shop")));
        answers.ShouldContain(a => a.StatusCode == HttpStatusCode.OK);
        answers.First(a => a.StatusCode == HttpStatusCode.TooManyRequests).Headers.RetryAfter!.Delta.ShouldBe(TimeSpan.FromSeconds(1));
    }

    [Fact]
    public async Task A_key_that_the_web_shop_has_seen_changes_nothing_a_second_time()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 10));
        using var http = Shop(sandbox);
        async Task<string> SendAsync(int cents) =>
            await (
                await http.PostAsJsonAsync(
                    "api/variants/batch",
                    new
                    {
                        updates = new[]
                        {
                            new
                            {
                                id = 90001,
                                request_key = "k1",
                                price_cents = cents,
                            },
                        },
                    }
                )
            ).Content.ReadAsStringAsync();
        var first = await SendAsync(1111);
        (await SendAsync(2222)).ShouldBe(first);
        sandbox.Shop.Lookup([90001], found => found.Single().Variant.PriceCents).ShouldBe(1111);
        sandbox.Shop.Applied.ShouldHaveSingleItem().Key.ShouldBe("k1");
    }

    [Theory]
    [InlineData("""{"updates":"none"}""")]
    [InlineData("""{"updates":[{"id":"x"}]}""")]
    [InlineData("""{"wrong":[]}""")]
    [InlineData("no json")]
    public async Task The_web_shop_refuses_a_batch_that_it_cannot_read(string body)
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 10));
        using var http = Shop(sandbox);
        (await http.PostAsync("api/variants/batch", new StringContent(body, Encoding.UTF8, "application/json"))).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Fact]
    public async Task A_buyer_takes_from_the_shelf_and_cannot_take_more_than_there_is()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions(Items: 60));
        using var http = new HttpClient { BaseAddress = sandbox.Address };
        var product = sandbox.Catalogue.Products.First(p => p.Variants[0].Quantity > 3);
        var before = product.Variants[0].Quantity;
        var bought = await BuyAsync("2");
        bought.ShouldContain("Thank you, your order is placed.");
        bought.ShouldContain($"{before - 2} in stock");
        (await BuyAsync("9999")).ShouldContain($"Only {before - 2} left.");
        sandbox.Shop.Orders.ShouldHaveSingleItem().Quantity.ShouldBe(2);

        async Task<string> BuyAsync(string quantity) =>
            WebUtility.HtmlDecode(
                await (
                    await http.PostAsync(
                        $"web-shop/p/{product.Id}",
                        new FormUrlEncodedContent(
                            new Dictionary<string, string> { ["variant"] = $"{product.Variants[0].Id}", ["quantity"] = quantity }
                        )
                    )
                ).Content.ReadAsStringAsync()
            );
    }

    [Fact]
    public async Task What_was_edited_is_still_there_after_a_restart()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-sandbox");
        try
        {
            var options = new SandboxOptions(DataFolder: folder.FullName, Items: 60);
            await using (var sandbox = await SandboxHost.StartAsync(options))
            {
                using var http = new HttpClient { BaseAddress = sandbox.Address };
                await http.PostAsync(
                    "back-office/a/10002",
                    new FormUrlEncodedContent(new Dictionary<string, string> { ["price.Studio"] = "77.70", ["stock.Kilnyard"] = "5" })
                );
                sandbox.Shop.SetPrice(90_002, 4321);
                sandbox.Shop.Remove(90_003);
            }

            await File.AppendAllTextAsync(Path.Combine(folder.FullName, "web-shop.jsonl"), "{\"cut off in the mid");
            await using var again = await SandboxHost.StartAsync(options);
            again.Office.Find("10002")!.Studio.ShouldBe(77.70m);
            again.Office.Find("10002")!.Stock["Kilnyard"].OnHand.ShouldBe(5);
            again.Shop.Lookup([90_002, 90_003], found => found.Select(f => f.Variant.PriceCents)).ShouldBe([4321]);
            File.Exists(Path.Combine(folder.FullName, "troubles.json")).ShouldBeTrue();
        }
        finally
        {
            folder.Delete(recursive: true);
        }
    }

    [Fact]
    public async Task Text_from_the_data_is_text_on_the_pages()
    {
        await using var sandbox = await SandboxHost.StartAsync(new SandboxOptions());
        using var http = new HttpClient { BaseAddress = sandbox.Address };
        var page = await http.GetStringAsync("back-office/?q=<script>alert(1)</script>");
        page.ShouldContain("&lt;script&gt;");
        page.ShouldNotContain("<script>");
    }

    private static bool CheckDigitHolds(string barcode) => barcode.Select((c, i) => (c - '0') * (i % 2 == 0 ? 1 : 3)).Sum() % 10 == 0;

    private static HttpClient Office(SandboxHost sandbox) =>
        new() { BaseAddress = new Uri(sandbox.Address, "back-office/"), DefaultRequestHeaders = { { "X-Api-Key", "kilnyard-demo-key" } } };

    private static HttpClient Shop(SandboxHost sandbox) =>
        new()
        {
            BaseAddress = new Uri(sandbox.Address, "web-shop/"),
            DefaultRequestHeaders =
            {
                Authorization = new AuthenticationHeaderValue("Basic", Convert.ToBase64String("narbit:shopfront-demo"u8)),
            },
        };
}
