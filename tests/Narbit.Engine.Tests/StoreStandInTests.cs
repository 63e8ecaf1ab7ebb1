using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Narbit.Sandbox;
using Narbit.Sandbox.Stores;

namespace Narbit.Engine.Tests;

/// <summary>The trade portal, the marketplace and the till keep the ways that were given to them.</summary>
public sealed class StoreStandInTests : IAsyncLifetime
{
    private SandboxHost _sandbox = null!;
    private HttpClient _http = null!;

    public async ValueTask InitializeAsync()
    {
        _sandbox = await SandboxHost.StartAsync(new SandboxOptions());
        _http = new HttpClient { BaseAddress = _sandbox.Address };
    }

    public async ValueTask DisposeAsync()
    {
        _http.Dispose();
        await _sandbox.DisposeAsync();
    }

    [Theory]
    [InlineData("trade-portal/gate/entries", HttpStatusCode.Unauthorized)]
    [InlineData("clay-lane/seller/v2/listings", HttpStatusCode.Forbidden)]
    public async Task Nobody_gets_in_without_a_key(string path, HttpStatusCode status) =>
        (await _http.GetAsync(path)).StatusCode.ShouldBe(status);

    [Fact]
    public async Task The_portal_has_an_envelope_of_its_own_and_prices_with_a_comma()
    {
        SignIn();
        var keys = new List<string>();
        string? from = null;
        do
        {
            var page = (
                await _http.GetFromJsonAsync<JsonNode>($"trade-portal/gate/entries?take=100{(from is null ? "" : $"&from={from}")}")
            )!["result"]!;
            keys.AddRange(page["entries"]!.AsArray().Select(e => e!["ref"]!.GetValue<string>()));
            page["entries"]![0]!["netPrice"]!.GetValue<string>().ShouldMatch("^[0-9]+,[0-9]{2}$");
            from = page["continue"]?.GetValue<string>();
        } while (from is not null);
        keys.ShouldBeUnique();
        keys.Count.ShouldBe(_sandbox.Catalogue.Further.Portal.Count);
        (await _http.GetFromJsonAsync<JsonNode>($"trade-portal/gate/entries?refs={keys[3]},none"))!["result"]!["entries"]!
            .AsArray()
            .ShouldHaveSingleItem()!["ref"]!
            .GetValue<string>()
            .ShouldBe(keys[3]);
    }

    [Fact]
    public async Task A_change_with_the_same_ticket_takes_effect_once()
    {
        SignIn();
        var change = new
        {
            changes = new[]
            {
                new
                {
                    @ref = "E-0001",
                    ticket = "t1",
                    netPrice = "9,90",
                },
            },
        };
        for (var i = 0; i < 2; i++)
            (await OutcomeAsync("trade-portal/gate/changes", change))["result"]!["outcomes"]![0]!["state"]!
                .GetValue<string>()
                .ShouldBe("taken");
        _sandbox.Portal.Applied.ShouldHaveSingleItem().Price.ShouldBe(9.9m);
        var refused = (
            await OutcomeAsync(
                "trade-portal/gate/changes",
                new
                {
                    changes = new[]
                    {
                        new
                        {
                            @ref = "E-none",
                            ticket = "t2",
                            netPrice = "1,00",
                        },
                    },
                }
            )
        )["result"]!["outcomes"]![0]!;
        refused["state"]!.GetValue<string>().ShouldBe("rejected");
        refused["reason"]!.GetValue<string>().ShouldBe("There is no listing E-none.");
        (await _http.PostAsJsonAsync("trade-portal/gate/changes", new { changes = "nonsense" })).StatusCode.ShouldBe(
            HttpStatusCode.UnprocessableEntity
        );
    }

    [Fact]
    public async Task The_market_shows_no_more_than_its_limit_and_says_which_listings_are_kits()
    {
        SignIn();
        var first = (await _http.GetFromJsonAsync<JsonNode>("clay-lane/seller/v2/listings?page=1"))!;
        var count = first["count"]!.GetValue<int>();
        first["pages"]!.GetValue<int>().ShouldBe((count + 49) / 50);
        var listing = first["listings"]![0]!["listing"]!.GetValue<string>();
        var answer = await OutcomeAsync(
            "clay-lane/seller/v2/listings/updates",
            new
            {
                updates = new[]
                {
                    new
                    {
                        listing,
                        requestId = "r1",
                        shown = 21,
                    },
                },
            }
        );
        answer["updates"]![0]!["accepted"]!.GetValue<string>().ShouldBe("no");
        answer["updates"]![0]!["because"]!.GetValue<string>().ShouldBe("At most 20 may be shown.");

        var last = (await _http.GetFromJsonAsync<JsonNode>($"clay-lane/seller/v2/listings?page={(count + 49) / 50}"))![
            "listings"
        ]!.AsArray();
        last.Count(l => l!["bundle"] is not null).ShouldBe(3);
        var table = (await _http.GetStringAsync("clay-lane/kits.csv")).Trim().Split("\r\n");
        table[0].ShouldBe("hub_key,sku,system,quantity");
        table.Length.ShouldBe(1 + _sandbox.Catalogue.Further.Market.Sum(l => l.Kit.Count));
    }

    [Fact]
    public async Task The_till_writes_anew_after_a_sale_and_takes_in_what_is_dropped()
    {
        var listing = _sandbox.Catalogue.Further.Till.First(l => l.Quantity > 1);
        var (price, quantity) = (listing.Price + 1, listing.Quantity - 1);
        (
            await _http.PostAsync("quay-street-till/buy", new FormUrlEncodedContent([new("id", listing.Id), new("quantity", "1")]))
        ).StatusCode.ShouldBe(HttpStatusCode.OK);
        var folder = _sandbox.TillFolders.Folder;
        var dropped = Path.Combine(folder, "in", "update_20261125-101500-0001.csv");
        await File.WriteAllTextAsync(
            dropped + ".part",
            $"PLU;Price\r\n{listing.Id};{price.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture).Replace('.', ',')}\r\n"
        );
        File.Move(dropped + ".part", dropped);
        var line = "";
        var deadline = DateTime.UtcNow.AddSeconds(20);
        while (
            DateTime.UtcNow < deadline
            && !line.Contains(
                $";{price.ToString("0.00", System.Globalization.CultureInfo.InvariantCulture).Replace('.', ',')};{quantity};",
                StringComparison.Ordinal
            )
        )
        {
            await Task.Delay(30);
            var newest = Directory.GetFiles(Path.Combine(folder, "out"), "articles_*.csv").Order(StringComparer.Ordinal).Last();
            line =
                (await File.ReadAllLinesAsync(newest)).FirstOrDefault(l => l.StartsWith($"{listing.Id};", StringComparison.Ordinal)) ?? "";
        }

        line.ShouldContain($";{quantity};");
        File.Exists(Path.Combine(folder, "in", "done", Path.GetFileName(dropped))).ShouldBeTrue();
        _sandbox
            .Till.Edit([
                new ListingEdit
                {
                    Key = "k",
                    Id = listing.Id,
                    Price = -1,
                },
            ])[0]
            .Refusal.ShouldBe("A price must be from 0 to 999,999.99.");
    }

    [Fact]
    public async Task The_back_office_lets_particulars_be_put_right()
    {
        SignIn();
        var answer = await OutcomeAsync(
            "back-office/v1/articles/batch",
            new
            {
                updates = new object[]
                {
                    new
                    {
                        articleNo = "10001",
                        requestKey = "k1",
                        sku = "NEW-1",
                    },
                    new
                    {
                        articleNo = "none",
                        requestKey = "k2",
                        sku = "X",
                    },
                    new
                    {
                        articleNo = "10002",
                        requestKey = "k3",
                        weightGrams = 0,
                    },
                },
            }
        );
        answer["data"]!.AsArray().Select(d => d!["state"]!.GetValue<string>()).ShouldBe(["saved", "refused", "refused"]);
        _sandbox.Office.Find("10001")!.Sku.ShouldBe("NEW-1");
        (await _http.GetFromJsonAsync<JsonNode>("back-office/v1/customers"))!["data"]!.AsArray().Count.ShouldBe(91);
    }

    [Theory]
    [InlineData("quay-street-till/")]
    [InlineData("trade-portal/?q=glaze")]
    [InlineData("clay-lane/?q=<script>")]
    public async Task Each_store_has_a_page_for_buyers(string path)
    {
        var page = await _http.GetStringAsync(path);
        page.ShouldContain("<title>");
        page.ShouldNotContain("<script>");
    }

    private void SignIn()
    {
        _http.DefaultRequestHeaders.Authorization = new("Bearer", TradePortalApi.Token);
        _http.DefaultRequestHeaders.Add("X-Seller-Key", MarketApi.SellerKey);
        _http.DefaultRequestHeaders.Add("X-Api-Key", "kilnyard-demo-key");
    }

    private async Task<JsonNode> OutcomeAsync(string path, object body)
    {
        var reply = await _http.PostAsJsonAsync(path, body);
        reply.StatusCode.ShouldBe(HttpStatusCode.OK, await reply.Content.ReadAsStringAsync());
        return (await reply.Content.ReadFromJsonAsync<JsonNode>())!;
    }
}
