using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json.Nodes;
using Microsoft.Extensions.Logging;
using Narbit.Sandbox;
using Narbit.Sandbox.Faults;

namespace Narbit.Web.Tests;

/// <summary>
/// Narbit over the stand-ins, as it runs for a person, reached by HTTP alone. Where it is killed it is a process of its own; elsewhere it
/// is served by the tests' process, so that its code is compiled once and not for each story.
/// </summary>
public sealed class RunningNarbit : IAsyncDisposable
{
    private const int MostPrepared = 600;
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);
    private static readonly ConcurrentDictionary<int, Lazy<Task<DirectoryInfo>>> Prepared = new();
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-web");
    private Process? _process;
    private NarbitServer? _server;

    // As the program itself does before it starts.
    static RunningNarbit()
    {
        CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;
        ThreadPool.SetMinThreads(24, 24);
    }

    private RunningNarbit(SandboxHost sandbox)
    {
        Sandbox = sandbox;
        Address = new Uri($"http://127.0.0.1:{FreePort()}");
        Http = new HttpClient { BaseAddress = Address };
    }

    public SandboxHost Sandbox { get; }

    public Uri Address { get; }

    public HttpClient Http { get; }

    /// <summary>The folder with everything that it keeps.</summary>
    public string Folder => _folder.FullName;

    // The name under which it is served; null: it is the demo.
    private string? Host { get; init; }

    private bool CallsThisMachine { get; init; }

    private bool IsProcess { get; init; }

    public string LogFile => Path.Combine(_folder.FullName, "narbit.log");

    public static string Root { get; } = FindRoot();

    /// <summary>The demo, set up and looked at once.</summary>
    /// <param name="items">How many items the back office has.</param>
    /// <param name="swift">Whether it waits for nobody; otherwise it is set up before one's eyes, with the demo's own patience.</param>
    /// <param name="asProcess">Whether it is a process of its own, which can be killed and started again.</param>
    public static Task<RunningNarbit> StartAsync(int items = 240, bool swift = true, bool asProcess = false) =>
        swift && items <= MostPrepared ? FromPreparedAsync(items, asProcess) : FreshAsync(items, swift);

    // Setting the demo up takes longer than most stories, so it is set up once for each size and begun with a copy.
    private static async Task<RunningNarbit> FromPreparedAsync(int items, bool asProcess)
    {
        var prepared = await Prepared.GetOrAdd(items, n => new Lazy<Task<DirectoryInfo>>(() => PreparedAsync(n))).Value;
        var narbit = new RunningNarbit(await SandboxHost.StartAsync(new SandboxOptions(Items: items, ShopRequestsPerSecond: 2000)))
        {
            IsProcess = asProcess,
        };
        Copy(prepared, narbit._folder);
        await narbit.BeginAsync();
        return narbit;
    }

    private static async Task<DirectoryInfo> PreparedAsync(int items)
    {
        await using var narbit = await FreshAsync(items, swift: true);
        await narbit.EndAsync();
        var kept = Directory.CreateTempSubdirectory("narbit-prepared");
        AppDomain.CurrentDomain.ProcessExit += (_, _) => kept.Delete(recursive: true);
        Copy(narbit._folder, kept);
        return kept;
    }

    private static void Copy(DirectoryInfo from, DirectoryInfo to)
    {
        foreach (var file in from.GetFiles().Where(f => f.Extension != ".log"))
            file.CopyTo(Path.Combine(to.FullName, file.Name));
        foreach (var folder in from.GetDirectories())
            Copy(folder, to.CreateSubdirectory(folder.Name));
    }

    private static async Task<RunningNarbit> FreshAsync(int items, bool swift)
    {
        var narbit = new RunningNarbit(await SandboxHost.StartAsync(new SandboxOptions(Items: items, ShopRequestsPerSecond: 2000)));
        try
        {
            await narbit.BeginAsync();
            // The demo looks at both sides once when it is set up.
            await narbit.UntilAsync(async () =>
                (await narbit.GetAsync("/api/runs"))["rows"]!.AsArray().All(r => r!["state"]!.GetValue<string>() != "working")
            );
            foreach (var run in (await narbit.GetAsync("/api/runs"))["rows"]!.AsArray())
                run!["state"]!.GetValue<string>().ShouldBe("ready", run["why"]?.ToJsonString());
            await narbit.UntilAsync(async () => (await narbit.GetAsync("/api/couples")).AsArray().All(c => c!["pairedAt"] is not null));
            if (swift)
                await narbit.QuickenAsync();
            return narbit;
        }
        catch
        {
            await narbit.DisposeAsync();
            throw;
        }
    }

    /// <summary>Narbit with nothing in it, served under another name too.</summary>
    /// <param name="host">The name that it is served under.</param>
    /// <param name="loopback">Whether it may call systems on this machine.</param>
    public static async Task<RunningNarbit> StartEmptyAsync(string host, bool loopback = false)
    {
        var narbit = new RunningNarbit(await SandboxHost.StartAsync(new SandboxOptions(Items: 12)))
        {
            Host = host,
            CallsThisMachine = loopback,
        };
        narbit._folder.UnixFileMode |= UnixFileMode.GroupRead | UnixFileMode.OtherRead | UnixFileMode.OtherExecute;
        await narbit.BeginAsync();
        return narbit;
    }

    /// <summary>Starts it and waits until it answers.</summary>
    public Task BeginAsync() => IsProcess ? BeginProcessAsync() : BeginHereAsync();

    private async Task BeginHereAsync()
    {
        var started = await NarbitServer.StartAsync(
            Arguments(Address),
            log => log.ClearProviders().SetMinimumLevel(LogLevel.Information).AddProvider(new KeptLog(Log))
        );
        _server = started.Value;
    }

    private async Task BeginProcessAsync()
    {
        var process = Begin(Address);
        process.OutputDataReceived += (_, e) => Log(e.Data);
        process.ErrorDataReceived += (_, e) => Log(e.Data);
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        _process = process;
        await UntilAsync(
            async () =>
            {
                if (process.HasExited)
                    throw new InvalidOperationException($"Narbit stopped while starting:\n{await File.ReadAllTextAsync(LogFile)}");
                try
                {
                    return (await Http.GetAsync("/api/lanes")).IsSuccessStatusCode;
                }
                catch (HttpRequestException)
                {
                    return false;
                }
            },
            3 * Patience
        );
    }

    /// <summary>Starts another process on the same folder, and waits until it ends.</summary>
    /// <returns>What it ended with, and what it said of an error.</returns>
    public async Task<(int Code, string Error)> BesideAsync()
    {
        using var process = Begin(new Uri("http://127.0.0.1:0"));
        var error = process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, await error);
    }

    private Process Begin(Uri address)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (var arg in Arguments(address).Prepend(Path.Combine(AppContext.BaseDirectory, "Narbit.Web.dll")))
            start.ArgumentList.Add(arg);
        // Nothing answers there: a proxy of the machine's is never asked.
        foreach (var proxy in new[] { "HTTP_PROXY", "HTTPS_PROXY", "ALL_PROXY" })
            start.Environment[proxy] = "http://127.0.0.1:9";
        return Process.Start(start)!;
    }

    private string[] Arguments(Uri address) =>
        [
            "--urls",
            address.ToString(),
            "--data",
            Folder,
            .. CallsThisMachine ? new[] { "--loopback", "yes" } : [],
            .. Host is { } host
                ? (string[])["--host", host, "--files", Path.Combine(Folder, "files")]
                : ["--sandbox", Sandbox.Address.ToString(), "--files", Sandbox.Folder],
            "--web",
            Path.Combine(Root, "web", "dist"),
        ];

    /// <summary>SIGKILL: nothing is said, nothing is tidied up.</summary>
    public async Task KillAsync()
    {
        _process!.Kill(entireProcessTree: true);
        await _process.WaitForExitAsync();
        _process.Dispose();
        _process = null;
    }

    /// <summary>A job of one lane, as the API takes it.</summary>
    public static object Job(string lane, int everyMinutes, bool atOnce = false, string? name = null) =>
        new
        {
            name = name ?? lane,
            timetable = new { zone = "UTC", every = new { minutes = everyMinutes } },
            lanes = new[] { new { lane } },
            atOnce,
        };

    /// <summary>Puts a lane into a job of its own, which is called like the lane where it gets no name.</summary>
    public async Task AddJobAsync(string lane, int everyMinutes, bool atOnce = false, string? name = null) =>
        (await SendAsync(HttpMethod.Post, "/api/jobs", Job(lane, everyMinutes, atOnce, name))).EnsureSuccessStatusCode();

    /// <summary>Says in the stopped process's database since when nobody kept a job's times.</summary>
    public Task UnkeptSinceAsync(string job, DateTimeOffset since) =>
        StoredAsync(async db =>
        {
            var kept = (await db.Jobs.FindAsync(job))!;
            (kept.SettledUntil, kept.NextDueAt) = (since, since);
            await db.SaveChangesAsync();
        });

    /// <summary>Looks into its database, or changes it behind its back.</summary>
    public async Task StoredAsync(Func<Narbit.Data.NarbitContext, Task> act)
    {
        await using (var db = new Narbit.Data.Database(Path.Combine(Folder, "narbit.db")).CreateDbContext())
            await act(db);
        Narbit.Data.Database.ForgetConnections();
    }

    public async Task<JsonNode> GetAsync(string path)
    {
        var response = await Http.GetAsync(path);
        response.StatusCode.ShouldBe(HttpStatusCode.OK, path);
        return (await response.Content.ReadFromJsonAsync<JsonNode>())!;
    }

    public Task<HttpResponseMessage> SendAsync(HttpMethod method, string path, object? body = null) =>
        Http.SendAsync(new HttpRequestMessage(method, path) { Content = body is null ? null : JsonContent.Create(body) });

    /// <summary>The problem details of a refusal.</summary>
    public static async Task<JsonNode> ProblemAsync(HttpResponseMessage response, HttpStatusCode status)
    {
        var text = await response.Content.ReadAsStringAsync();
        response.StatusCode.ShouldBe(status, text);
        response.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        return JsonNode.Parse(text)!;
    }

    public async Task<long> StartRunAsync(string lane, bool preview)
    {
        var response = await SendAsync(HttpMethod.Post, $"/api/lanes/{lane}/runs", new { preview });
        response.StatusCode.ShouldBe(HttpStatusCode.Accepted, await response.Content.ReadAsStringAsync());
        return (await response.Content.ReadFromJsonAsync<JsonNode>())!["runId"]!.GetValue<long>();
    }

    public async Task<JsonNode> EndedAsync(long run)
    {
        JsonNode? detail = null;
        await UntilAsync(async () => (detail = await GetAsync($"/api/runs/{run}"))["run"]!["state"]!.GetValue<string>() != "working");
        return detail!["run"]!;
    }

    /// <summary>Waits until the mismatches of a filter are as they should be; they follow what happens, a breath later.</summary>
    public async Task<JsonArray> UntilMismatchAsync(string filter, Func<JsonArray, bool> isSo)
    {
        JsonArray? rows = null;
        await UntilAsync(async () => isSo(rows = (await GetAsync($"/api/mismatches?limit=500&{filter}"))["rows"]!.AsArray()));
        return rows!;
    }

    /// <summary>A run's writes of a sort, at most 500.</summary>
    public async Task<IReadOnlyList<JsonNode>> WritesAsync(long run, string show) =>
        [.. (await GetAsync($"/api/runs/{run}/writes?show={show}&limit=500"))["rows"]!.AsArray().Select(r => r!)];

    /// <summary>Accepts and commits every certain pair of the hub with a store.</summary>
    public async Task PairAsync(string store, string kind = "item")
    {
        var couple = await CoupleAsync(store, kind);
        var all = new
        {
            act = "accept",
            show = "certain",
            expected = couple["counts"]!["certain"]!.GetValue<int>(),
        };
        (await SendAsync(HttpMethod.Post, $"/api/couples/{couple["id"]}/decisions/all", all)).EnsureSuccessStatusCode();
        var committed = new { only = (long[]?)null, note = (string?)null };
        (await SendAsync(HttpMethod.Post, $"/api/couples/{couple["id"]}/commit", committed)).EnsureSuccessStatusCode();
    }

    /// <summary>The couple of the hub with a system.</summary>
    public async Task<JsonNode> CoupleAsync(string other, string kind = "item") =>
        (await GetAsync("/api/couples"))
            .AsArray()
            .First(c => c!["other"]!["id"]!.GetValue<string>() == other && c["kind"]!.GetValue<string>() == kind)!;

    public async Task SaveMarkupAsync()
    {
        var response = await SendAsync(
            HttpMethod.Put,
            "/api/lanes/prices-web-shop/rule",
            new
            {
                baseNumber = 1,
                note = "plus 18",
                document = new { kind = "price", rule = Markup },
                guards = Unguarded,
            }
        );
        response.StatusCode.ShouldBe(HttpStatusCode.OK, await response.Content.ReadAsStringAsync());
    }

    /// <summary>Lets nothing be stopped by a lane's guards, as a second version of its rule.</summary>
    public async Task UnguardAsync(string lane)
    {
        var version = (await GetAsync($"/api/lanes/{lane}/rule/versions"))[0]!;
        var rule = new
        {
            baseNumber = 1,
            document = version["document"],
            guards = Unguarded,
        };
        var saved = await SendAsync(HttpMethod.Put, $"/api/lanes/{lane}/rule", rule);
        saved.StatusCode.ShouldBe(HttpStatusCode.OK, await saved.Content.ReadAsStringAsync());
    }

    /// <summary>Limits that watch nothing, for tests of what comes after.</summary>
    public static object Unguarded { get; } = new
    {
        changedShare = (int?)null,
        priceMove = (int?)null,
        belowCost = false,
        zeroPrice = false,
        toZero = (int?)null,
        emptiedTexts = (int?)null,
        removed = (int?)null,
        failingTimes = (int?)null,
    };

    public static object Markup { get; } = new
    {
        priceList = "Studio",
        bands = new[] { new { from = "0", multiply = "1.18" } },
        tax = new { source = "net", target = "gross" },
        ending = new { kind = "charm", endings = new[] { "0.99" } },
    };

    public async Task UntilAsync(Func<Task<bool>> condition, TimeSpan? patience = null)
    {
        var deadline = DateTime.UtcNow + (patience ?? Patience);
        while (!await condition())
        {
            if (DateTime.UtcNow > deadline)
                throw new TimeoutException(
                    $"Not within {(patience ?? Patience).TotalSeconds} seconds. The log "
                        + $"ends:\n{string.Join('\n', (await File.ReadAllLinesAsync(LogFile)).TakeLast(20))}"
                );
            await Task.Delay(50);
        }
    }

    // Ends it, however it was begun.
    private async Task EndAsync()
    {
        if (_process is not null)
            await KillAsync();
        if (_server is { } server)
            await server.DisposeAsync();
        _server = null;
        Narbit.Data.Database.ForgetConnections();
    }

    public async ValueTask DisposeAsync()
    {
        await EndAsync();
        foreach (var dial in Sandbox.Dials.Values)
            dial.Shares = new FaultShares();
        Http.Dispose();
        await Sandbox.DisposeAsync();
        _folder.Delete(recursive: true);
    }

    // Waiting is for people: short time-outs and a high rate, set as a person would, by editing the description.
    private async Task QuickenAsync()
    {
        foreach (var system in (await GetAsync("/api/systems")).AsArray())
            await DescribeAsync(
                system!["id"]!.GetValue<string>(),
                document =>
                {
                    if (document["limits"] is not null)
                        document["limits"] = new JsonObject
                        {
                            ["requestsPerSecond"] = 1000,
                            ["timeoutSeconds"] = 0.5,
                            ["attempts"] = 15,
                        };
                }
            );
    }

    /// <summary>Changes a system's description, as a person would.</summary>
    public async Task DescribeAsync(string id, Action<JsonNode> change)
    {
        var system = (await GetAsync("/api/systems")).AsArray().First(s => s!["id"]!.GetValue<string>() == id)!;
        var document = JsonNode.Parse(await Http.GetStringAsync($"/api/systems/{id}/document"))!;
        change(document);
        var response = await SendAsync(
            HttpMethod.Put,
            $"/api/systems/{id}",
            new
            {
                revision = system["revision"]!.GetValue<int>(),
                address = system["address"]!.GetValue<string>(),
                mayRead = true,
                mayWrite = true,
                document = document.ToJsonString(),
            }
        );
        response.StatusCode.ShouldBe(HttpStatusCode.NoContent, await response.Content.ReadAsStringAsync());
    }

    /// <summary>Says of the process what it says on its console.</summary>
    private sealed class KeptLog(Action<string?> keep) : ILoggerProvider, ILogger
    {
        public ILogger CreateLogger(string categoryName) => this;

        public IDisposable? BeginScope<TState>(TState state)
            where TState : notnull => null;

        public bool IsEnabled(LogLevel logLevel) => logLevel >= LogLevel.Information;

        public void Log<TState>(
            LogLevel logLevel,
            EventId eventId,
            TState state,
            Exception? exception,
            Func<TState, Exception?, string> formatter
        ) => keep($"{logLevel}: {formatter(state, exception)} {exception}");

        public void Dispose()
        {
            // It keeps nothing open.
        }
    }

    private void Log(string? line)
    {
        if (line is null)
            return;
        lock (_folder)
            File.AppendAllText(LogFile, line + "\n");
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static string FindRoot()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "narbit")))
            folder = Path.GetDirectoryName(folder) ?? throw new InvalidOperationException("The project's folder was not found.");
        return folder;
    }
}
