using System.Net;

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
            var path in new[] { "today", "ribbon", "systems", "lanes", "works", "couples", "runs", "synced", "synced/choices", "exposure" }
        )
            await narbit.GetAsync($"/api/{path}");
        (await narbit.GetAsync("/api/today"))["decisions"]!.AsArray().ShouldBeEmpty();

        using var named = new HttpRequestMessage(HttpMethod.Get, "/api/today") { Headers = { Host = Name } };
        (await narbit.Http.SendAsync(named)).StatusCode.ShouldBe(HttpStatusCode.OK);
        using var other = new HttpRequestMessage(HttpMethod.Get, "/api/today") { Headers = { Host = "other.example" } };
        (await narbit.Http.SendAsync(other)).StatusCode.ShouldBe(HttpStatusCode.MisdirectedRequest);

        var (code, error) = await narbit.BesideAsync();
        code.ShouldBe(3);
        error.ShouldStartWith("narbit: Another Narbit already works with");
        (await narbit.GetAsync("/api/lanes")).AsArray().ShouldBeEmpty("the first one goes on");
        new DirectoryInfo(Path.Combine(narbit.Folder, "keys")).UnixFileMode.ShouldBe(
            UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute
        );

        using var browser = new Browser(narbit.Address);
        foreach (
            var (path, sign) in new[] { ("/", "Today"), ("/systems", "Add a system"), ("/lanes", "Lanes"), ("/synced", "What is synced") }
        )
        {
            browser.Open(path);
            browser.See(sign);
            browser.Until(() => !browser.Text("main").Contains("Loading", StringComparison.Ordinal), $"{path} to finish loading");
            browser.Axe().ShouldBeEmpty(path);
        }

        browser.Errors().ShouldBeEmpty();
    }
}
