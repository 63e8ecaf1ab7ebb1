namespace Narbit.Web.Tests;

/// <summary>Each page, light and dark: nothing for axe-core to find, no sideways scrolling, no error in the console.</summary>
public sealed class AxeTests
{
    private static readonly (string Path, string Sign)[] Pages =
    [
        ("/", "Needs a decision"),
        ("/systems", "Add a system"),
        ("/systems/back-office?row=10001", "what the system sent|weightGrams"),
        ("/systems/web-shop?tab=fields", "May be written"),
        ("/systems/web-shop?tab=connection", "Save the connection"),
        ("/lanes", "Next"),
        ("/orders", "from every store"),
        ("/orders/orders-web-shop/30215", "becomes in"),
        ("/lanes/orders-web-shop/rule", "of the last 60 days"),
        ("/lanes/prices-web-shop/scope", "Save the scope"),
        ("/lanes/prices-web-shop/pairs", "records are unpaired"),
        ("/pair-desk", "which record here is which record there"),
        ("/pair-desk/1", "unpaired"),
        ("/pair-desk/1?show=paired", "pair"),
        ("/pair-desk/2?show=none&kind=other", "only in"),
        ("/pair-desk/1?tab=review", "Put into force"),
        ("/pair-desk/1?tab=readiness", "Before the first sync"),
        ("/pair-desk/1?tab=tables", "Take a table in"),
        ("/pair-desk/2?tab=start", "Choose records by hand"),
        ("/items/10002", "Stock in"),
        ("/lanes/items-web-shop/scope", "How it publishes"),
        ("/lanes/items-web-shop/map", "suggested:"),
        ("/lanes/items-web-shop/crosswalks", "No crosswalk yet"),
        ("/lanes/prices-web-shop/guards", "would go through|stops:"),
        ("/lanes/items-web-shop/guards", "would go through|stops:"),
        ("/lanes/prices-web-shop/versions", "Version 1 is the first"),
        ("/lanes/items-web-shop/preview", "Nothing has been compared yet"),
        ("/systems/web-shop/records/90001", "key 90001"),
        ("/synced", "Set all"),
        ("/exposure", "promised, pcs|Nothing is exposed"),
        ("/proof", "Compare all every day at"),
        ("/mismatches", "Does harm now"),
        ("/mismatches?cause=ready.skuTwice", "SKU used twice"),
        ("/settings/told", "The server that takes mails"),
        ("/lanes/prices-web-shop/rule", "On real records"),
        ("/lanes/stock-web-shop/rule", "On real records"),
        ("/lanes/stock-web-shop/preview?show=up", "Choose only these"),
        ("/lanes/stock-web-shop/timetable", "by hand only"),
        ("/timetable", "in no job"),
        ("/timetable/prices-clay-lane", "Its lanes, in their order"),
        ("/timetable/prices-clay-lane?tab=change", "Expected requests an hour"),
        ("/lanes/prices-web-shop/runs", "Outcome"),
        ("/runs", "what happened, newest first"),
        ("/written", "What became of it"),
        ("/help", "What the words mean"),
        ("/runs/1", "Run 1"),
        ("/runs/1?tab=remarks", "What is in the way"),
        ("/nowhere", "There is nothing at this address"),
    ];

    [Fact]
    public async Task Every_page_is_for_everybody_and_so_are_the_dialogs()
    {
        await using var narbit = await RunningNarbit.StartAsync();
        await narbit.AddJobAsync("prices-clay-lane", everyMinutes: 60);
        using var browser = new Browser(narbit.Address);
        var found = new List<string>();
        foreach (var (path, sign) in Pages)
        {
            browser.Open(path);
            browser.Until(() => sign.Split('|').Any(s => browser.Text().Contains(s, StringComparison.Ordinal)), $"{sign} on {path}");
            browser.Until(() => !browser.Text("main").Contains("Loading", StringComparison.Ordinal), $"{path} to finish loading");
            found.AddRange(browser.Axe().Select(v => $"{path}: {v}"));
            // Dark differs in its colours only.
            browser.Script("document.documentElement.dataset.mantineColorScheme = 'dark'");
            found.AddRange(browser.Axe("color-contrast").Select(v => $"{path}, dark: {v}"));
            if (browser.ScrollsSideways())
                found.Add($"{path}: scrolls sideways at 1280");
            browser.Resize(1024, 800);
            if (browser.ScrollsSideways())
                found.Add($"{path}: scrolls sideways at 1024");
            browser.Resize(1280, 800);
        }

        found.AddRange(browser.Errors());
        found.ShouldBeEmpty(string.Join('\n', found));
        Dialogs(browser);
    }

    private static void Dialogs(Browser browser)
    {
        browser.Open("/systems");
        browser.Click("Add a system");
        browser.See("What it says of itself");
        browser.Axe().ShouldBeEmpty();
        browser.Fill("Address", "http://169.254.169.254/");
        browser.Click("Call a list");
        browser.Fill("List: path", "latest");
        browser.Axe().ShouldBeEmpty();
        browser.Click("Call it");
        browser.See("an address that Narbit does not connect to");
        browser.Open("/pair-desk/2?show=none&kind=other");
        browser.See("Set all");
        browser.Until(() => browser.Count(".table-row[aria-selected='true']") == 1, "a chosen record");
        browser.Press("x");
        browser.See("It stays on record");
        browser.Axe().ShouldBeEmpty();
        browser.Press(OpenQA.Selenium.Keys.Escape);
        browser.Until(
            () =>
                browser.Script(
                    "return document.querySelector('.mantine-Modal-content') === null && document.activeElement?.tagName !== 'INPUT'"
                )
                    is true,
            "the dialog to close"
        );
        browser.Press("h");
        browser.See("A kit of several items");
        browser.Axe().ShouldBeEmpty();
        browser.Open("/lanes/items-web-shop/map");
        browser.See("suggested:");
        browser.Click("Accept all");
        browser.ClickOn("section[aria-label='Save'] button.act");
        browser.See("cannot be mapped", ".mantine-Modal-content");
        browser.Axe().ShouldBeEmpty();
        browser.Open("/");
        browser.See("Needs a decision");
        browser.Press("?");
        browser.See("go to Today");
        browser.Axe().ShouldBeEmpty();
    }
}
