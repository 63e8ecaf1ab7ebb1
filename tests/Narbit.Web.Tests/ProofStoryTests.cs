using System.Globalization;
using System.Net;

namespace Narbit.Web.Tests;

/// <summary>Everything is compared afresh, at a press or at night, and what was found is handed to an auditor.</summary>
public sealed class ProofStoryTests
{
    [Fact]
    public async Task All_lanes_are_compared_afresh_and_each_count_leads_to_what_it_counts()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        // What is sent is in step; then somebody changes a price in the shop.
        var sent = await narbit.StartRunAsync("prices-web-shop", preview: true);
        await narbit.EndedAsync(sent);
        (await narbit.SendAsync(HttpMethod.Post, $"/api/runs/{sent}/send", new { all = true })).EnsureSuccessStatusCode();
        (await narbit.EndedAsync(sent))["state"]!.GetValue<string>().ShouldBe("done");
        var writes = await narbit.GetAsync($"/api/runs/{sent}/writes?show=confirmed&limit=1");
        var write = writes["rows"]![0]!;
        narbit.Sandbox.Shop.SetPrice(long.Parse(write["targetKey"]!.GetValue<string>(), CultureInfo.InvariantCulture), 77_77);

        using var browser = new Browser(narbit.Address);
        browser.Open("/proof");
        browser.See("not compared yet");
        browser.Click("Compare all now");
        browser.See("1 changed there", "section[aria-label='Lanes']");
        browser.See("records in step", "section[aria-label='All lanes']");
        await narbit.UntilAsync(async () => !(await narbit.GetAsync("/api/proofs"))["atWork"]!.GetValue<bool>());
        browser.SeeNot("Reading and comparing");
        browser.Axe().ShouldBeEmpty();

        browser.ClickOn("section[aria-label='Lanes'] a[href*='changedThere']");
        browser.See("77.77");
        browser.See(write["reference"]!.GetValue<string>());
        browser.Until(() => browser.Count("[role=rowgroup] [role=row]") == 1, "the one price that was changed there");
        browser.Axe().ShouldBeEmpty();
        var proof = browser.Address.Split('/', '?')[2];
        var lines = await narbit.Http.GetStringAsync($"/api/proofs/{proof}.csv?finding=changedThere");
        lines.ShouldStartWith("finding,record here,record there");
        lines.Split('\n', StringSplitOptions.RemoveEmptyEntries).Length.ShouldBe(2);

        var days = await narbit.Http.GetStringAsync("/api/proofs.csv");
        days.ShouldContain("changed there,to be sent,not there,held,not computed,believed wrongly");
        days.ShouldContain("Lanternmoor Back Office,Lanternmoor Web Shop");
        browser.Open("/proof");
        browser.Fill("Compare all every day at", "noon");
        browser.Click("Do so");
        browser.See("is no time of day; say it like 03:10");
        browser.Fill("Compare all every day at", "03:30");
        browser.Click("Do so");
        browser.See("Every day at 03:30.");
        browser.Click("No longer");
        browser.See("Only when somebody asks.");
        browser.Errors().ShouldBeEmpty();
    }

    [Fact]
    public async Task What_cannot_be_is_answered()
    {
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example");
        (await narbit.SendAsync(HttpMethod.Get, "/api/proofs/7")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await narbit.SendAsync(HttpMethod.Get, "/api/proofs/7/lines")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var problem = await RunningNarbit.ProblemAsync(
            await narbit.SendAsync(HttpMethod.Put, "/api/proofs/time", new { at = "25:00" }),
            HttpStatusCode.UnprocessableEntity
        );
        problem["code"]!.GetValue<string>().ShouldBe("proof.time");
        var nothing = await RunningNarbit.ProblemAsync(await narbit.SendAsync(HttpMethod.Post, "/api/proofs"), HttpStatusCode.Conflict);
        nothing["code"]!.GetValue<string>().ShouldBe("proof.nothing");
        var unkept = await RunningNarbit.ProblemAsync(
            await narbit.SendAsync(HttpMethod.Put, "/api/proofs/time", new { at = "03:10" }),
            HttpStatusCode.Conflict
        );
        unkept["detail"]!.GetValue<string>().ShouldContain("set the workspace up first");
    }
}
