using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text.Json.Nodes;
using Narbit.Core.Events;

namespace Narbit.Web.Tests;

/// <summary>A person buys at the market, in the portal and at the till; the orders come, the market's by its webhook.</summary>
public sealed class ManyStoresOrderTests
{
    private const string Market = "clay-lane";

    [Fact]
    public async Task Bought_at_the_market_paid_later_in_the_portal_and_at_the_till()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);
        var (book, drawers) = (narbit.Sandbox.Orders.Book, narbit.Sandbox.Orders);
        foreach (var store in new[] { Market, "trade-portal", "quay-street-till" })
        {
            await narbit.PairAsync(store);
            await UnguardedAsync(narbit, $"orders-{store}");
        }

        // The market is told where to send its notices, with a secret that is shown once.
        browser.Open($"/systems/{Market}?tab=connection");
        browser.Click("Make a secret");
        browser.See("The secret, shown this once");
        var secret = browser.Text("[data-secret]").Trim();
        secret.Length.ShouldBe(64);
        browser.Open(Address(narbit, $"/{Market}/notices"));
        browser.Fill("Sent to", new Uri(narbit.Address, $"/hooks/{Market}").ToString());
        browser.Fill("Signed with", secret);
        browser.Fill("twice", "50");
        browser.Click("Keep");
        browser.See("Kept.");
        await narbit.EndedAsync(await narbit.StartRunAsync($"orders-{Market}", preview: false));
        await narbit.AddJobAsync($"orders-{Market}", everyMinutes: 1440, atOnce: true);

        // Bought, and nobody knows by whom yet; paid, and it is in the back office by itself.
        var sold = await SoldAsync(narbit, "clay-lane");
        browser.Open(Address(narbit, $"/{Market}/?q={Uri.EscapeDataString(sold)}"));
        browser.Click("Buy");
        browser.See("waits for its payment");
        var purchase = drawers.Market.All[^1];
        book.Documents.ShouldNotContain(d => d.ExternalNumber == purchase.Number);
        browser.Open(Address(narbit, $"/{Market}/orders"));
        browser.ClickOn($"[data-order='{purchase.Id}'] button[value='pay']");
        browser.Until(() => book.Documents.Any(d => d.ExternalNumber == purchase.Number), "the purchase in the back office");
        browser.Until(() => drawers.Market.Find([purchase.Id])[0].State == "in hand", "the market to hear of it");
        browser.Open($"/orders?search={purchase.Number}");
        browser.See("acknowledged");

        // In the portal, on an account's terms and under its own number.
        browser.Open(Address(narbit, $"/trade-portal/?q={Uri.EscapeDataString(await SoldAsync(narbit, "trade-portal"))}"));
        browser.Fill("Account", "40104");
        browser.Fill("Your order number", "PO-77");
        browser.Click("Buy");
        browser.See("Thank you. Your requisition is TP");
        // At the till, in cash; and one that is left open.
        var atTill = Address(narbit, $"/quay-street-till/?q={Uri.EscapeDataString(await SoldAsync(narbit, "quay-street-till"))}");
        browser.Open(atTill);
        browser.Click("Buy");
        browser.See("is closed");
        foreach (var store in new[] { "trade-portal", "quay-street-till" })
            await narbit.EndedAsync(await narbit.StartRunAsync($"orders-{store}", preview: false));
        var requisition = book.Documents.Single(d => d.ExternalNumber == drawers.Portal.All[^1].Number);
        (requisition.Customer, requisition.Kind).ShouldBe(("40104", "order"));
        await narbit.UntilAsync(async () =>
        {
            await narbit.EndedAsync(await narbit.StartRunAsync("orders-quay-street-till", preview: false));
            return book.Documents.Any(d => d.ExternalNumber == drawers.Till.All[^1].Number && d.Kind == "sale");
        });
        browser.Open("/");
        browser.See("Orders");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task Webhooks_that_are_too_large_or_wrongly_signed_are_refused_and_a_person_s_data_is_handed_out_and_anonymised()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        var made = await narbit.SendAsync(HttpMethod.Post, $"/api/systems/{Market}/hook/secret");
        var secret = JsonNode.Parse(await made.Content.ReadAsStringAsync())!["secret"]!.GetValue<string>();
        (await HookAsync(narbit, secret, new byte[50 * 1024 * 1024])).ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        var body = """{"notice":"N-900","purchase":"M500001"}"""u8.ToArray();
        (await HookAsync(narbit, "guessed", body)).ShouldBe(HttpStatusCode.Unauthorized);
        (await HookAsync(narbit, secret, body, minutes: -30)).ShouldBe(HttpStatusCode.Unauthorized);
        (await HookAsync(narbit, secret, "no json"u8.ToArray())).ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await HookAsync(narbit, secret, body)).ShouldBe(HttpStatusCode.Accepted);
        (await HookAsync(narbit, secret, body)).ShouldBe(HttpStatusCode.Accepted);
        (await narbit.GetAsync($"/api/systems/{Market}/hook"))["taken"]!.GetValue<int>().ShouldBe(1);
        await RunningNarbit.ProblemAsync(
            await narbit.Http.GetAsync(new Uri("/api/systems/web-shop/hook", UriKind.Relative)),
            HttpStatusCode.UnprocessableEntity
        );

        // Everything that is kept of a buyer, as a file; then nothing tells who it was.
        await narbit.EndedAsync(await narbit.StartRunAsync("orders-web-shop", preview: true));
        var order = narbit.Sandbox.Orders.Shop.All.Last(o => o.Email.Length > 0);
        var path = $"/api/people/data.json?who={Uri.EscapeDataString(order.Email)}";
        var data = await narbit.GetAsync(path);
        data["records"]!.AsArray().ShouldContain(r => r!["key"]!.GetValue<string>() == order.Id);
        using var browser = new Browser(narbit.Address);
        browser.Open($"/orders/orders-web-shop/{order.Id}");
        browser.Click("Anonymise");
        browser.Click("Anonymise it");
        browser.See("anonymised.");
        browser.Open($"/orders?search={order.Number}");
        browser.See("anonymised");
        await RunningNarbit.ProblemAsync(await narbit.Http.GetAsync(new Uri(path, UriKind.Relative)), HttpStatusCode.NotFound);
        var wrong = await narbit.SendAsync(HttpMethod.Put, "/api/people/anonymise-after", new { days = 0 });
        (await RunningNarbit.ProblemAsync(wrong, HttpStatusCode.UnprocessableEntity))["code"]!.GetValue<string>().ShouldBe("choice.days");
        browser.Open("/orders");
        browser.Fill("buyers anonymised after", "400");
        browser.Press(OpenQA.Selenium.Keys.Tab);
        browser.See("Orders are anonymised 400 days after they were placed.");
        (await narbit.GetAsync("/api/people/anonymise-after"))["days"]!.GetValue<int>().ShouldBe(400);
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task What_changes_after_posting_is_decided_on_the_seam_and_further_fields_are_mapped()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        using var browser = new Browser(narbit.Address);
        const string Lane = "orders-web-shop";
        var (book, shop) = (narbit.Sandbox.Orders.Book, narbit.Sandbox.Orders.Shop);

        // A further field by a constant, and what is done when the address changes: both are part of the lane's next version.
        browser.Open($"/lanes/{Lane}/map?field=salesPerson");
        browser.Click("Give it a constant");
        browser.Fill("Constant", "web desk");
        browser.Open($"/lanes/{Lane}/rule");
        browser.Choose("When changed: the address", "The document is changed");
        browser.Click("Save version 2");
        browser.See("Saved as version 2.");
        await UnguardedAsync(narbit, Lane, 2);
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false));
        book.Documents.ShouldAllBe(d => d.SalesPerson == "web desk");

        var posted = shop.All.Last(o =>
            o is { HubNumber.Length: > 0, Refunds.Count: 0, Vouchers.Count: 0, Discounts.Count: 0, Fees.Count: 0 }
        );
        browser.Open(Address(narbit, "/web-shop/orders"));
        browser.Click("One more", $"[data-order='{posted.Id}']");
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false));
        browser.Open("/orders?show=held&cause=editedGoods");
        browser.See(posted.Number);
        browser.Open($"/orders/{Lane}/{posted.Id}");
        browser.See("its lines or amounts were changed in the store after it was posted");
        browser.Click("Change the document");
        browser.See("after its change in the store, the document is changed");
        await narbit.EndedAsync(await narbit.StartRunAsync(Lane, preview: false));
        book.Document(posted.HubNumber)!.Lines.Sum(l => l.Gross).ShouldBe(shop.Find([posted.Id])[0].Total);
        browser.Open($"/orders/{Lane}/{posted.Id}");
        browser.See("adds up to the cent");
        browser.Axe().ShouldBeEmpty();
        browser.Errors().ShouldBeEmpty();
    }

    private static string Address(RunningNarbit narbit, string path) => new Uri(narbit.Sandbox.Address, path).ToString();

    private static async Task UnguardedAsync(RunningNarbit narbit, string lane, int version = 1)
    {
        var newest = (await narbit.GetAsync($"/api/lanes/{lane}/rule/versions"))[0]!;
        var saved = await narbit.SendAsync(
            HttpMethod.Put,
            $"/api/lanes/{lane}/rule",
            new
            {
                baseNumber = version,
                document = newest["document"],
                guards = RunningNarbit.Unguarded,
            }
        );
        saved.StatusCode.ShouldBe(HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
    }

    // A SKU of a listing that is paired and can be bought.
    private static async Task<string> SoldAsync(RunningNarbit narbit, string store)
    {
        var rows = (await narbit.GetAsync($"/api/synced?store={store}&offset=0&limit=100"))["rows"]!.AsArray();
        var state = store switch
        {
            Market => narbit.Sandbox.Market,
            "trade-portal" => narbit.Sandbox.Portal,
            _ => narbit.Sandbox.Till,
        };
        var keys = new List<string>();
        await narbit.StoredAsync(db =>
        {
            keys.AddRange(
                db.Links.Where(l => !l.IsKit && db.Couples.Any(c => c.Id == l.CoupleId && c.OtherId == store)).Select(l => l.OtherKey)
            );
            return Task.CompletedTask;
        });
        rows.Count.ShouldBeGreaterThan(0);
        return state
            .Find(keys, found => found.Where(l => l is { Quantity: > 3, Price: > 0, Published: true }).ToList())
            .GroupBy(l => l.Sku)
            .First(g => g.Count() == 1 && g.Key.Length > 6)
            .Key;
    }

    private static async Task<HttpStatusCode> HookAsync(RunningNarbit narbit, string secret, byte[] body, int minutes = 0)
    {
        var stamp = DateTimeOffset.UtcNow.AddMinutes(minutes).ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        using var request = new HttpRequestMessage(HttpMethod.Post, $"/hooks/{Market}") { Content = new ByteArrayContent(body) };
        request.Content.Headers.ContentType = new MediaTypeHeaderValue("application/json");
        // What is too large is refused before it is sent.
        request.Headers.ExpectContinue = true;
        request.Headers.Add("Clay-Time", stamp);
        request.Headers.Add("Clay-Signature", HookSignature.Of(secret, stamp, body));
        using var answer = await narbit.Http.SendAsync(request);
        return answer.StatusCode;
    }
}
