using System.Text;

namespace Narbit.Web.Tests;

/// <summary>A till that writes files is described from two of them, without JSON, and read; a newer file is brought by hand.</summary>
public sealed class FilesStoryTests : IDisposable
{
    private const string Articles = "PLU;Art.-Nr.;Bezeichnung;EAN;VK-Preis;Bestand\r\n";

    private const string Receipts =
        "Bon;Datum;Summe;Artikel;Menge;Preis\r\n"
        + "7001;28.11.2026 09:15;20,50;KY-0002;1;8,50\r\n"
        + "7001;28.11.2026 09:15;20,50;KY-0003;1;12,00\r\n"
        + "7002;28.11.2026 10:40;17,00;KY-0002;2;8,50\r\n";

    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-files-story");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public async Task A_till_is_added_from_two_files_and_read_and_a_newer_file_is_brought()
    {
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example");
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");
        browser.Open("/systems/new");
        browser.Click("By files");
        browser.Give("section[aria-label='Its files'] input[type=file]", Make("notes.csv", "sku,title\r\n"));
        browser.See("no row stands below it");
        browser.Give(
            "section[aria-label='Its files'] input[type=file]",
            Make(
                "artikel_20261128-060000.csv",
                Articles + "1;KY-0001;Schüssel;4006381333931;1.249,90;12\r\n2;KY-0002;Teller;4006381333948;8,50;0\r\n"
            ),
            Make("bons_20261128-200000.csv", Receipts)
        );
        browser.See("Rows with the same “Bon” are one order: 2 in 3 rows");
        browser.See("Semicolons between its cells");
        browser.Value("Called; {time} for the time").ShouldBe("artikel_{time}.csv");
        browser.Click("Read some", "section[aria-label='Files of items']");
        browser.See("2 items read of 2, and that is all. All as described.");
        browser.See("Schüssel · Teller", "table[aria-label='Columns of items']");
        browser.Click("Read some", "section[aria-label='Files of orders']");
        browser.See("2 orders read of 2, and that is all. All as described.");
        browser.Axe().ShouldBeEmpty("a system by files that is being described");

        browser.Fill("Name", "Market Hall Till");
        browser.Click("As text");
        browser.Value("Description").ShouldContain("\"file\": \"bons_{time}.csv\"");
        browser.Click("Form");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        // What was dropped in lies in its folder, and is complete once it was left alone for a while.
        await narbit.UntilAsync(async () =>
        {
            (await narbit.SendAsync(HttpMethod.Post, "/api/systems/market-hall-till/read", new { full = true })).EnsureSuccessStatusCode();
            var system = (await narbit.GetAsync("/api/systems"))[0]!;
            return system["reads"]!.AsArray().All(r => r!["records"]!.GetValue<int>() == 2);
        });
        browser.Open("/systems/market-hall-till");
        browser.See("1,249.90");

        browser.Click("Connection");
        browser.Give("section[aria-label='Bring a file'] input[type=file]", Make("by mail.txt", "x"));
        browser.See("come as .csv");
        browser.Give(
            "section[aria-label='Bring a file'] input[type=file]",
            Make("by mail.csv", Articles + "1;KY-0001;Schüssel;4006381333931;999,00;12\r\n")
        );
        browser.See("It is there as artikel_");
        await narbit.UntilAsync(async () =>
        {
            (await narbit.SendAsync(HttpMethod.Post, "/api/systems/market-hall-till/read", new { full = true })).EnsureSuccessStatusCode();
            var page = await narbit.GetAsync("/api/systems/market-hall-till/records/item?limit=10");
            return page["rows"]!.AsArray().Any(r => r!["values"]!["vkPreis"]?.GetValue<string>() == "999");
        });

        // Its description is edited in the same place.
        browser.Click("How it works");
        browser.See("How Market Hall Till works");
        browser.Fill("What the system calls them", "wares");
        browser.Click("Save it");
        browser.Until(() => browser.Address.StartsWith("/systems/market-hall-till?", StringComparison.Ordinal), "the system");
        browser.See("wares");
    }

    private string Make(string name, string text)
    {
        var path = Path.Combine(_folder.FullName, name);
        File.WriteAllText(path, text, Encoding.Latin1);
        return path;
    }
}
