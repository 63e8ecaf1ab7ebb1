using Narbit.Unknown;

namespace Narbit.Web.Tests;

/// <summary>A store that wants a person's grant is described, let in, added, and let in again after it took the grant back.</summary>
public sealed class GrantStoryTests
{
    [Fact]
    public async Task A_person_grants_access_in_a_window_of_its_own_and_again_once_it_is_lost()
    {
        await using var house = new GrantHouse();
        await house.StartAsync();
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example", loopback: true);
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");
        browser.Open("/systems/new");
        browser.Fill("Address", $"{house.Address}/api");
        browser.Choose("Signs callers in by", "access that a person grants (OAuth 2)");
        browser.Fill("Access is granted at", $"{house.Address}/grant");
        browser.Fill("Tokens are given at", $"{house.Address}/token");
        browser.Fill("Client", GrantHouse.Client);
        browser.See("not granted yet");
        browser.Axe().ShouldBeEmpty("a sign-in that a person grants");
        LetIn(browser);
        // The page hears of it a moment later, and then asks anew for all that was called without it.
        browser.See("Grant it again");
        browser.Click("Call a list");
        browser.Fill("List: path", "wares");
        browser.Click("Call it");
        browser.See("9 records of items looked at");
        browser.Fill("Name", "Grant House");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        (await narbit.SendAsync(HttpMethod.Post, "/api/systems/grant-house/read", new { full = true })).EnsureSuccessStatusCode();
        browser.See("9 records");

        house.Refresh = null;
        house.ForgetToken();
        browser.Open("/systems/grant-house?tab=connection");
        browser.Click("Test");
        browser.See("takes the access that was granted no more");
        browser.See("counts no more");
        LetIn(browser);
        browser.SeeNot("counts no more");
        browser.Click("Test");
        browser.See("9 read, all as described");
        browser.Errors().ShouldBeEmpty();
    }

    private static void LetIn(Browser browser)
    {
        browser.Click("Grant access");
        browser.InNewWindow(() =>
        {
            browser.Click("Let Narbit in");
            browser.See("Access was granted. The page from which you came goes on by itself.");
            browser.Axe().ShouldBeEmpty("where people come back to");
        });
    }
}
