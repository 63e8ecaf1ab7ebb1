namespace Narbit.Web.Tests.Toys;

/// <summary>A kind of record with its lane is added from this assembly alone, and goes all the way.</summary>
public sealed class ShelfTests
{
    [Fact]
    public async Task A_kind_that_only_the_tests_know_goes_from_reading_to_confirmation_with_its_pages()
    {
        await using var north = new ShelfHouse(("A1", "Celadon", "wall"), ("A2", "Ash white", "door"), ("B1", "Tenmoku", "floor"));
        await north.StartAsync();
        await using var south = new ShelfHouse(("A1", "Celadon", "wall"), ("A2", "Ash white", "window"), ("B1", "Tenmoku", "corner"));
        await south.StartAsync();
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example", loopback: true);
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");
        await AddAsync(narbit, "north-house", "North House", north, isHub: true);
        await AddAsync(narbit, "south-house", "South House", south, isHub: false);
        foreach (var system in new[] { "north-house", "south-house" })
            (await narbit.SendAsync(HttpMethod.Post, $"/api/systems/{system}/read", new { full = true })).EnsureSuccessStatusCode();
        browser.Open("/systems");
        browser.Until(() => browser.Text("main").Split("3 records").Length == 3, "both houses to be read");

        var couple = await narbit.CoupleAsync("south-house", "shelf");
        (await narbit.SendAsync(HttpMethod.Post, $"/api/couples/{couple["id"]}/pair", new { })).EnsureSuccessStatusCode();
        (await narbit.CoupleAsync("south-house", "shelf"))["counts"]!["certain"]!.GetValue<int>().ShouldBe(3);
        await narbit.PairAsync("south-house", "shelf");

        browser.Open("/lanes");
        browser.Click("New lane");
        browser.Choose("What flows", "Shelves");
        browser.Choose("From", "North House (hub)");
        browser.Choose("To", "South House");
        browser.Click("Make the lane");
        browser.See("Field map", "nav[aria-label='Steps of the lane']");
        var lane = browser.Address.Split('/')[2];
        var map = new { fields = new[] { new { target = "place", source = new { fields = new[] { "place" } } } } };
        var saved = await narbit.SendAsync(
            HttpMethod.Put,
            $"/api/lanes/{lane}/rule",
            new { baseNumber = 1, document = new { kind = "shelf", map } }
        );
        saved.IsSuccessStatusCode.ShouldBeTrue(await saved.Content.ReadAsStringAsync());
        browser.Open($"/lanes/{lane}/map");
        browser.See("Owned");
        browser.Axe().ShouldBeEmpty("the map of a kind of its own");
        browser.Open($"/lanes/{lane}/preview");
        browser.Click("Preview anew");
        browser.See("Ash white");
        browser.Click("Send", ".tools");
        browser.See("to South House?");
        browser.ClickOn(".mantine-Modal-content button[data-autofocus]");
        browser.Until(() => browser.Address.StartsWith("/runs/", StringComparison.Ordinal), "the run's page");
        browser.See("confirmed");
        await narbit.UntilAsync(() => Task.FromResult(south.Places["A2"] == "door" && south.Places["B1"] == "floor"));
        south.Places["A1"].ShouldBe("wall");
        browser.Errors().ShouldBeEmpty();
    }

    private static async Task AddAsync(RunningNarbit narbit, string id, string name, ShelfHouse house, bool isHub)
    {
        var added = await narbit.SendAsync(
            HttpMethod.Post,
            "/api/systems",
            new
            {
                id,
                document = ShelfHouse.Description(name, name[..2]),
                address = house.Address,
                mayRead = true,
                mayWrite = true,
                isHub,
            }
        );
        added.IsSuccessStatusCode.ShouldBeTrue(await added.Content.ReadAsStringAsync());
    }
}
