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
    [InlineData("test nobody-knows", "narbit: a part is core, engine, web, or the name of a test.")]
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

    private static async Task<(int Exit, string Output, string Errors)> RunAsync(string arguments, string? path = null)
    {
        var start = new ProcessStartInfo("/bin/bash")
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
            RedirectStandardInput = true,
            WorkingDirectory = RunningNarbit.Root,
        };
        start.ArgumentList.Add("./narbit");
        foreach (var argument in arguments.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            start.ArgumentList.Add(argument);
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
