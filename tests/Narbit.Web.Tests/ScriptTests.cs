using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace Narbit.Web.Tests;

/// <summary>./narbit itself: what it says when something is in the way, in one clear line.</summary>
public sealed class ScriptTests
{
    [Theory]
    [InlineData("demo --port abc", "narbit: --port takes a number from 1024 to 65000.")]
    [InlineData("demo --port 80", "narbit: --port takes a number from 1024 to 65000.")]
    [InlineData("demo --items 0", "narbit: --items takes a number from 1 to 1000000.")]
    [InlineData("demo --port 6111 --data /proc/narbit", "narbit: the folder /proc/narbit cannot be written. Choose another with --data.")]
    public async Task What_cannot_work_is_said_before_anything_starts(string arguments, string line)
    {
        var (exit, _, errors) = await RunAsync(arguments);
        exit.ShouldBe(1);
        errors.Trim().ShouldBe(line);
    }

    [Theory]
    [InlineData("")]
    [InlineData("dance")]
    [InlineData("demo --colour red")]
    public async Task Wrong_usage_shows_the_usage(string arguments)
    {
        var (exit, _, errors) = await RunAsync(arguments);
        exit.ShouldBe(2);
        errors.ShouldStartWith("usage: ./narbit demo");
    }

    [Fact]
    public async Task A_taken_port_is_named()
    {
        using var taken = new TcpListener(IPAddress.Loopback, 0);
        taken.Start();
        var port = ((IPEndPoint)taken.LocalEndpoint).Port;
        var (exit, _, errors) = await RunAsync($"serve --port {port}");
        exit.ShouldBe(1);
        errors.Trim().ShouldBe($"narbit: port {port} is taken. Choose another with --port.");
    }

    [Fact]
    public async Task A_missing_sdk_is_named()
    {
        // A machine that has the shell's own tools and no more.
        var (exit, _, errors) = await RunAsync("demo", path: "/usr/bin/nowhere");
        exit.ShouldBe(1);
        errors.Trim().Split('\n')[^1].ShouldStartWith("narbit: the .NET 10 SDK is missing.");
    }

    [Fact]
    public async Task A_lanes_work_is_done_from_files_alone()
    {
        var folder = Directory.CreateTempSubdirectory("narbit-preview").FullName;
        string At(string name) => Path.Combine(folder, name);
        await File.WriteAllTextAsync(At("left.csv"), "key,title,tax,weight\nA-1,\"Celadon glaze, brush-on\",S,0.38\nA-2,Moss glaze,R,1.0\nA-3,=Formula,Q,2\nA-4,New here,S,1\n");
        await File.WriteAllTextAsync(At("right.csv"), "key,caption,taxClass,weight\nA-1,Celadon glaze,A,0.38\nA-2,Moss glaze,B,1.00\nA-3,Old,A,2\nA-9,Only there,A,1\n");
        const string map = """
            { "format": "narbit/lane/1", "kind": "item",
              "source": { "fields": [ { "name": "title" }, { "name": "tax", "type": "code" }, { "name": "weight", "type": "weight" } ] },
              "target": { "fields": [ { "name": "caption", "writable": true }, { "name": "taxClass", "type": "code", "writable": true }, { "name": "weight", "type": "weight", "writable": true } ] },
              "map": { "publish": { "new": "all" },
                       "fields": [ { "target": "caption", "source": { "fields": ["title"] } }, { "target": "weight", "source": { "fields": ["weight"] } },
                                   { "target": "taxClass", "source": { "fields": ["tax"] }, "steps": [ { "do": "crosswalk", "with": { "table": "Tax" } } ] } ],
                       "crosswalks": [ { "name": "Tax", "entries": [ { "from": "S", "to": "A" }, { "from": "R", "to": "B" } ] } ] } }
            """;
        await File.WriteAllTextAsync(At("lane.json"), map);
        var (exit, output, errors) = await RunAsync($"preview --lane {At("lane.json")} --left {At("left.csv")} --right {At("right.csv")} --out {At("changes.csv")}");
        exit.ShouldBe(0, errors + output);
        var lines = await File.ReadAllLinesAsync(At("changes.csv"));
        lines[0].ShouldBe("kind,key,field,old,new,reason");
        lines.ShouldContain(l => l.StartsWith("change,A-1,caption,Celadon glaze,\"Celadon glaze, brush-on\",", StringComparison.Ordinal));
        // 1.0 and 1.00 are the same weight; a code without an entry holds its record; what is only there is left.
        lines.ShouldNotContain(l => l.Contains("A-2", StringComparison.Ordinal));
        lines.Single(l => l.Contains("A-3", StringComparison.Ordinal)).ShouldSatisfyAllConditions(l => l.ShouldNotStartWith("change"), l => l.ShouldContain("crosswalk"));
        lines.Count(l => l.StartsWith("new,A-4,", StringComparison.Ordinal)).ShouldBe(3);
        lines.Single(l => l.StartsWith("gone,A-9", StringComparison.Ordinal)).ShouldContain("the lane leaves it");

        await File.WriteAllTextAsync(At("lane.json"), map.Replace("\"do\": \"crosswalk\"", "\"do\": \"dance\"", StringComparison.Ordinal).Replace("{ \"target\": \"weight\"", "{ \"colour\": 1, \"target\": \"weight\"", StringComparison.Ordinal));
        (exit, _, errors) = await RunAsync($"preview --lane {At("lane.json")} --left {At("left.csv")} --right {At("right.csv")} --out {At("changes.csv")}");
        exit.ShouldBe(1);
        errors.ShouldContain("map.fields");
        errors.ShouldContain("colour");
        (exit, _, errors) = await RunAsync($"preview --lane {At("lane.json")} --left {At("nothing.csv")} --right {At("right.csv")} --out {At("changes.csv")}");
        exit.ShouldBe(1);
        Directory.Delete(folder, recursive: true);
    }

    private static async Task<(int Exit, string Output, string Errors)> RunAsync(string arguments, string? path = null)
    {
        var start = new ProcessStartInfo("/bin/bash") { RedirectStandardOutput = true, RedirectStandardError = true, RedirectStandardInput = true, WorkingDirectory = RunningNarbit.Root };
        start.ArgumentList.Add("./narbit");
        foreach (var argument in arguments.Split(' ', StringSplitOptions.RemoveEmptyEntries)) start.ArgumentList.Add(argument);
        if (path is not null)
        {
            // dirname is the one program the script calls before it looks for the SDK.
            var tools = Directory.CreateTempSubdirectory("narbit-tools");
            File.CreateSymbolicLink(Path.Combine(tools.FullName, "dirname"), "/usr/bin/dirname");
            start.Environment["PATH"] = tools.FullName;
        }

        using var process = Process.Start(start)!;
        process.StandardInput.Close();
        var (output, errors) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await errors);
    }
}
