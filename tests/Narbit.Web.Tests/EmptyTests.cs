using System.Net;
using System.Text.Json.Nodes;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Web.Tests;

/// <summary>Narbit with nothing in it, as it is begun with; served under a name of its own.</summary>
public sealed class EmptyTests
{
    private const string Name = "narbit.lanternmoor.example";

    [Fact]
    public async Task A_beginning_has_no_errors_a_name_of_its_own_and_its_folder_to_itself()
    {
        await using var narbit = await RunningNarbit.StartEmptyAsync(Name);
        foreach (
            var path in new[]
            {
                "today",
                "ribbon",
                "systems",
                "lanes",
                "works",
                "couples",
                "runs",
                "synced",
                "synced/choices",
                "exposure",
                "mismatches",
                "mismatches/causes",
            }
        )
            await narbit.GetAsync($"/api/{path}");
        (await narbit.GetAsync("/api/today"))["causes"]!.AsArray().ShouldBeEmpty();

        using var named = new HttpRequestMessage(HttpMethod.Get, "/api/today") { Headers = { Host = Name } };
        (await narbit.Http.SendAsync(named)).StatusCode.ShouldBe(HttpStatusCode.OK);
        using var other = new HttpRequestMessage(HttpMethod.Get, "/api/today") { Headers = { Host = "other.example" } };
        (await narbit.Http.SendAsync(other)).StatusCode.ShouldBe(HttpStatusCode.MisdirectedRequest);

        var (code, error) = await narbit.BesideAsync();
        code.ShouldBe(3);
        error.ShouldStartWith("narbit: Another Narbit already works with");
        (await narbit.GetAsync("/api/lanes")).AsArray().ShouldBeEmpty("the first one goes on");
        foreach (var folder in new[] { narbit.Folder, Path.Combine(narbit.Folder, "keys") })
            new DirectoryInfo(folder).UnixFileMode.ShouldBe(
                UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute,
                "whatever an earlier version left open is nobody else's now"
            );

        using var browser = new Browser(narbit.Address);
        foreach (
            var (path, sign) in new[]
            {
                ("/", "Begin here"),
                ("/systems", "Add a system"),
                ("/lanes", "Lanes"),
                ("/synced", "What is synced"),
                ("/settings", "Who works here"),
            }
        )
        {
            browser.Open(path);
            browser.See(sign);
            browser.Until(() => !browser.Text("main").Contains("Loading", StringComparison.Ordinal), $"{path} to finish loading");
            browser.Axe().ShouldBeEmpty(path);
        }

        await SetUpAsync(narbit, browser);
        await HubAsync(narbit, browser);
        await ChangeAsync(narbit, browser);
        await FilesAsync(narbit, browser);
        browser.Errors().ShouldBeEmpty();
    }

    private static async Task SetUpAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Choose("Time zone", "Europe/Dublin");
        browser.Fill("Currency", "eur");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");
        browser.See("Una M.", ".top");
        var settings = (await narbit.GetAsync("/api/workspace"))["settings"]!;
        (settings["timeZone"]!.GetValue<string>(), settings["currency"]!.GetValue<string>(), settings["hubId"]).ShouldBe(
            ("Europe/Dublin", "EUR", null)
        );
        browser.Axe().ShouldBeEmpty("a workspace without systems");
    }

    // The first system is the hub where nothing else is said.
    private static async Task HubAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Click("Add a system", "main");
        browser.See("It is the hub");
        var hub = new JsonObject
        {
            ["id"] = "back-office",
            ["document"] = await File.ReadAllTextAsync(Path.Combine(RunningNarbit.Root, "demo", "systems", "back-office.json")),
            ["address"] = "https://office.lanternmoor.example/",
            ["isHub"] = true,
        };
        (await narbit.SendAsync(HttpMethod.Post, "/api/systems", hub)).StatusCode.ShouldBe(HttpStatusCode.Created);
        (await narbit.GetAsync("/api/workspace"))["settings"]!["hubId"]!.GetValue<string>().ShouldBe("back-office");
        browser.Open("/");
        browser.Until(() => browser.Count("section[aria-label='What comes next'] .tag.glaze") == 1, "the hub to be done");
    }

    private static async Task ChangeAsync(RunningNarbit narbit, Browser browser)
    {
        browser.Open("/settings");
        browser.Fill("Name of person 1", "Una Marsh");
        browser.Click("Add a person");
        browser.Fill("Name of person 2", "Idris K.");
        browser.Fill("Mail of person 2", "idris@lanternmoor.example");
        browser.Choose("Time zone", "Europe/Paris");
        browser.Choose("Numbers", "1.234,50");
        browser.Choose("Weeks begin on", "Sunday");
        browser.See("All times are told in Europe/Paris instead of Europe/Dublin");
        browser.Click("Save");
        browser.SeeNot("Not saved.");
        browser.See("Una Marsh", ".top");

        var settings = (await narbit.GetAsync("/api/workspace"))["settings"]!.AsObject();
        settings["people"]!.AsArray().Count.ShouldBe(2);
        (settings["numbers"]!.GetValue<string>(), settings["firstDay"]!.GetValue<string>()).ShouldBe(("comma", "sunday"));
        async Task<string> RefusedAsync(string name, JsonNode? value)
        {
            var wrong = settings.DeepClone().AsObject();
            wrong[name] = value;
            var answer = await narbit.SendAsync(HttpMethod.Put, "/api/workspace", wrong);
            answer.IsSuccessStatusCode.ShouldBeFalse(name);
            return await answer.Content.ReadAsStringAsync();
        }

        JsonArray People(params string[] people) =>
            [.. people.Select(p => (JsonNode)new JsonObject { ["name"] = p.Split(';')[0], ["mail"] = p.Split(';').ElementAtOrDefault(1) })];
        (await RefusedAsync("name", " ")).ShouldContain("Give the workspace a name");
        (await RefusedAsync("timeZone", "Moor/Lantern")).ShouldContain("no time zone");
        (await RefusedAsync("currency", "EURO")).ShouldContain("three letters");
        (await RefusedAsync("country", "I3")).ShouldContain("two letters");
        (await RefusedAsync("hubId", "nowhere")).ShouldContain("no system");
        (await RefusedAsync("person", "Nobody")).ShouldContain("none of the people");
        (await RefusedAsync("people", People())).ShouldContain("Name the people");
        (await RefusedAsync("people", People("Una Marsh", "una marsh"))).ShouldContain("tell them apart");
        (await RefusedAsync("people", People("Una Marsh;at home"))).ShouldContain("no mail address");

        settings["currency"] = "SEK";
        settings["hubId"] = null;
        var effect = await narbit.SendAsync(HttpMethod.Post, "/api/workspace/effect", settings);
        var said = await effect.Content.ReadAsStringAsync();
        said.ShouldContain("Nothing is converted. Amounts stay in each system");
        said.ShouldContain("paired with nothing from now on");
    }

    // The workspace is taken away, changed outside, and taken in again.
    private static async Task FilesAsync(RunningNarbit narbit, Browser browser)
    {
        const string chosen = "section[aria-label='As files'] input[type=file]";
        var files = WorkspaceFiles.Read(await narbit.Http.GetStreamAsync("/api/workspace/files")).Value;
        files.All.Keys.ShouldBe(["systems/back-office.json", "workspace.json"]);
        browser.Open("/settings");
        browser.Give(chosen, Kept(narbit, "same.zip", files));
        browser.See("Nothing would change: the workspace is as the files say.");
        browser.Click("Leave it");

        var demo = WorkspaceFiles.Read(new DirectoryInfo(Path.Combine(RunningNarbit.Root, "demo"))).Value;
        browser.Give(chosen, Kept(narbit, "short.zip", WorkspaceFiles.Of(demo.All.Where(f => f.Key != "systems/clay-lane.json"))));
        browser.See("1 fault: nothing can be taken in until it is mended.");
        browser.See("systems/clay-lane.json, which describes “clay-lane”, is missing");
        browser.Axe().ShouldBeEmpty("faults of files");
        browser.Click("Leave it");

        var german = demo.All.Select(f =>
            KeyValuePair.Create(f.Key, f.Value.Replace("\"dayFirst\"", "\"dots\"", StringComparison.Ordinal))
        );
        browser.Give(chosen, Kept(narbit, "demo.zip", WorkspaceFiles.Of(german)));
        browser.See("name: “Marsh Pottery Supply” becomes “Lanternmoor Ceramics Supply”");
        browser.See("new: Prices from back-office to web-shop");
        browser.Axe().ShouldBeEmpty("changes by files");
        browser.Click("Take them in");
        browser.See("changes taken in.");
        browser.See("Ines O.", ".top");
        (await narbit.GetAsync("/api/lanes")).AsArray().Count.ShouldBe(16);
        browser.Open("/lanes/prices-web-shop/versions");
        browser.See("as the shop was priced by hand");
        browser.Open("/orders");
        browser.Choose("When", "last week");
        browser.Until(
            () =>
                browser.Address.Contains("from=", StringComparison.Ordinal) && browser.Address.Contains("until=", StringComparison.Ordinal),
            "a week in the address"
        );
        browser.Choose("When", "from … until …");
        browser.Until(() => browser.Value("from").EndsWith("T00:00", StringComparison.Ordinal), "the week's first instant in its field");
        browser.Axe().ShouldBeEmpty("orders of a time");
    }

    private static string Kept(RunningNarbit narbit, string name, WorkspaceFiles files)
    {
        var path = Path.Combine(narbit.Folder, name);
        File.WriteAllBytes(path, files.Zip());
        return path;
    }
}
