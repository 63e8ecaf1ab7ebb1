using Narbit.Unknown;

namespace Narbit.Web.Tests;

/// <summary>A till whose files lie on a server is described, read by SFTP, and not talked to once the server shows another key.</summary>
public sealed class SftpStoryTests : IDisposable
{
    private const string Key = "Private key, without a passphrase";
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-sftp-story");

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public async Task A_till_on_a_server_is_added_and_read_until_the_server_is_another()
    {
        await using var server = new SftpServer();
        await server.StartAsync();
        await using var narbit = await RunningNarbit.StartEmptyAsync("narbit.lanternmoor.example", loopback: true);
        using var browser = new Browser(narbit.Address);
        browser.Open("/");
        browser.Fill("Name", "Marsh Pottery Supply");
        browser.Fill("Your name", "Una M.");
        browser.Click("Set it up");
        browser.See("What comes next");
        browser.Open("/systems/new?show=files");
        browser.Give("section[aria-label='Its files'] input[type=file]", Articles());
        browser.See("Semicolons between its cells");
        browser.Fill("Its folder, or sftp://server/folder", server.Address);
        browser.See("known again by the host key");
        browser.Fill("User", SftpServer.User);
        browser.Click("Private key");
        browser.Fill(Key, server.StrangeKey());
        browser.Fill("Name", "Quay Till");
        browser.Click("Add it");
        browser.See("Quay Till refused the credentials");
        browser.Errors().ShouldHaveSingleItem("the refusal").ShouldContain("/api/systems");
        browser.Fill(Key, server.PrivateKey);
        browser.Axe().ShouldBeEmpty("a system on a server that is being described");
        browser.Click("Add it");
        browser.Until(() => browser.Address == "/systems", "the systems");
        Directory.GetFiles(Path.Combine(server.Files, "out")).Length.ShouldBe(1, "what was dropped in is the first on the server");
        await ReadAsync(narbit, rows: 2);

        browser.Open("/systems/quay-till?tab=connection");
        browser.See("Known by the host key SHA256:");
        await server.StopAsync();
        server.NewHostKey();
        await server.StartAsync();
        browser.Click("Test");
        browser.See("shows another host key than before");
        browser.Click("Forget it: the server was set up anew");
        browser.See("Its server was not met yet");
        browser.Click("Test");
        browser.See("The folder is there.");
        browser.See("Known by the host key SHA256:");
        browser.Errors().ShouldBeEmpty();
    }

    private static Task ReadAsync(RunningNarbit narbit, int rows) =>
        narbit.UntilAsync(async () =>
        {
            (await narbit.SendAsync(HttpMethod.Post, "/api/systems/quay-till/read", new { full = true })).EnsureSuccessStatusCode();
            return (await narbit.GetAsync("/api/systems"))[0]!["reads"]!.AsArray().All(r => r!["records"]!.GetValue<int>() == rows);
        });

    private string Articles()
    {
        var path = Path.Combine(_folder.FullName, "artikel_20261128-060000.csv");
        File.WriteAllText(path, "PLU;Art.-Nr.;Bezeichnung;VK-Preis\r\n1;KY-0001;Mug;12,90\r\n2;KY-0002;Plate;8,50\r\n");
        return path;
    }
}
