using System.Net;
using System.Text.Json.Nodes;
using Narbit.Unknown;

namespace Narbit.Web.Tests;

/// <summary>A day's work with a hub that has every bad habit at once.</summary>
public sealed class CrookedStoryTests
{
    private const string Orders = "orders-web-shop";

    [Fact]
    public async Task A_hub_of_bad_habits_is_read_shown_as_it_is_and_written_once_and_what_was_seen_is_what_is_sent()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await using var office = new CrookedOffice(new Uri(narbit.Sandbox.Address, "back-office").ToString());
        await office.StartAsync();
        using var browser = new Browser(narbit.Address);

        // It is called at its address from now on; another origin asks for the key anew.
        browser.Open("/systems/back-office?tab=connection");
        browser.Fill("Address", $"{office.Address}/");
        browser.Fill("New password, key or token", "kilnyard-demo-key");
        browser.Click("Save the connection");
        await narbit.UntilAsync(async () =>
            (await OfficeAsync(narbit))["address"]!.GetValue<string>().StartsWith(office.Address, StringComparison.Ordinal)
        );

        // What cannot be kept is shown as it was sent, beside the other of its number; all else is read.
        var before = await RecordsAsync(narbit);
        browser.Open("/systems");
        browser.Click("Read everything", "section[aria-label='Lanternmoor Back Office']");
        browser.See("3 not kept", "section[aria-label='Lanternmoor Back Office']");
        browser.ClickOn("section[aria-label='Lanternmoor Back Office'] a[href*='unkept']");
        browser.See("could not be kept");
        browser.See("the same number once more");
        browser.Axe().ShouldBeEmpty();
        (await RecordsAsync(narbit)).ShouldBe(before, "what was known of it stays, and nothing is gone");

        // Its clock is slow; what changes is seen all the same.
        var article = narbit.Sandbox.Catalogue.Articles[20];
        narbit.Sandbox.Office.Edit(article.Number, "Studio", 77.70m, null, null);
        await narbit.SendAsync(HttpMethod.Post, "/api/systems/back-office/read", new { full = false });
        await narbit.UntilAsync(async () =>
            (await narbit.GetAsync($"/api/systems/back-office/records/item?search={article.Sku}"))
                .ToJsonString()
                .Contains("77.7", StringComparison.Ordinal)
        );

        // It makes twice what it is asked twice, and says of what it has made that it failed.
        (narbit.Sandbox.Orders.Book.HonoursKeys, narbit.Sandbox.Orders.Book.KnowsNumbers) = (false, false);
        await narbit.DescribeAsync("back-office", LooksUpOnly);
        await narbit.UnguardAsync(Orders);
        office.FailsEvery = 2;
        browser.Open($"/lanes/{Orders}/preview");
        browser.Click("Preview anew");
        browser.Until(() => browser.Text(".tools").Contains("Send ", StringComparison.Ordinal), "orders to be sent");
        browser.Click("Send", ".tools");
        browser.See("Computed by version 2");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        var run = long.Parse(browser.Address.Split('/', '?')[2], null);
        await narbit.UntilAsync(async () => await OverAsync(narbit, run), TimeSpan.FromMinutes(3));
        var book = narbit.Sandbox.Orders.Book;
        book.Documents.Count.ShouldBeGreaterThan(40);
        book.Documents.Select(d => d.ExternalNumber).ShouldBeUnique();
        book.Customers.Where(c => string.CompareOrdinal(c.Number, "40190") >= 0).Select(c => c.Email).ShouldBeUnique();

        // What was computed by another version than the one in force is not sent.
        office.FailsEvery = 0;
        browser.Open("/lanes/prices-web-shop/preview");
        browser.Click("Preview anew");
        browser.Until(() => browser.Count(".table-row") > 3, "the change set");
        await narbit.SaveMarkupAsync();
        browser.Reload();
        browser.See("has saved version 2 since");
        browser.Until(() => browser.Count(".tools button[disabled]") > 0, "nothing to be sent");
        browser.Click("Preview again", "[role=alert]");
        browser.SeeNot("has saved version 2 since");
        browser.Errors().ShouldBeEmpty();
    }

    // A run that ends without knowing is tried again, as a person would.
    private static async Task<bool> OverAsync(RunningNarbit narbit, long run)
    {
        var state = (await narbit.GetAsync($"/api/runs/{run}"))["run"]!["state"]!.GetValue<string>();
        if (state == "failed")
            (await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{run}/again")).StatusCode.ShouldNotBe(HttpStatusCode.InternalServerError);
        return state == "done";
    }

    private static void LooksUpOnly(JsonNode description)
    {
        foreach (var resource in description["resources"]!.AsArray())
            if (resource!["create"] is JsonObject create && resource["find"] is not null)
                create["honoursKeys"] = false;
    }

    private static async Task<JsonNode> OfficeAsync(RunningNarbit narbit) =>
        (await narbit.GetAsync("/api/systems")).AsArray().First(s => s!["id"]!.GetValue<string>() == "back-office")!;

    private static async Task<int> RecordsAsync(RunningNarbit narbit) =>
        (await OfficeAsync(narbit))["reads"]!.AsArray().First(r => r!["kind"]!.GetValue<string>() == "item")!["records"]!.GetValue<int>();
}
