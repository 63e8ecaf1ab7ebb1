using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using Microsoft.Data.Sqlite;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Systems;

namespace Narbit.Bench;

/// <summary>
/// The mismatch desk with very many on it: how long it takes to take a hundred thousand in, beside SQLite storing the same rows; how long
/// its pages take with half a million; and how long to say what ten thousand unknown SKUs are.
/// </summary>
internal static class DeskBench
{
    private const int Recorded = 100_000;
    private const int OnTheDesk = 500_000;
    private const int Causes = 30;
    private const int Unknown = 10_000;

    private static readonly string[] Words =
    [
        "Celadon",
        "Oatmeal",
        "Shino",
        "Slate",
        "Ember",
        "Kelp",
        "Plum",
        "Sea Glass",
        "Honey",
        "Chalk",
    ];

    public static async Task<int> RunAsync(string server)
    {
        var data = Directory.CreateTempSubdirectory("narbit-desk");
        var database = new Database(Path.Combine(data.FullName, "narbit.db"));
        await database.MigrateAsync();
        await SystemsAsync(database);
        await RecordAsync(database, data.FullName);
        await PagesAsync(server, data.FullName);
        Suggest();
        return 0;
    }

    private static async Task SystemsAsync(Database database)
    {
        await using var db = database.CreateDbContext();
        db.Workspaces.Add(
            new Workspace
            {
                Name = "Bench",
                TimeZone = "UTC",
                Person = "Bench",
            }
        );
        foreach (var id in new[] { "hub", "shop" })
            db.Systems.Add(
                new ConnectedSystem
                {
                    Id = id,
                    Name = id,
                    Kind = SystemKind.WebStore,
                    Mark = id[..2].ToUpperInvariant(),
                    Currency = "EUR",
                    Document = "{}",
                    Address = "http://127.0.0.1:1/",
                }
            );
        await db.SaveChangesAsync();
    }

    private static async Task RecordAsync(Database database, string folder)
    {
        var store = new MismatchStore(database);
        var at = DateTimeOffset.UtcNow.AddDays(-30);
        var baseline = Timed(() => Plain(folder));
        var first = await TimedAsync(() => store.TakeInAsync("bench:0", at, Some(0), default));
        var again = await TimedAsync(() => store.TakeInAsync("bench:0", at.AddMinutes(5), Some(0), default));
        Console.WriteLine(
            $"{Recorded:N0} taken in: {first:0.00} s; the same seen again: {again:0.00} s; "
                + $"baseline, SQLite storing such rows without keys: {baseline:0.00} s"
        );
        for (var n = 1; n < OnTheDesk / Recorded; n++)
            await store.TakeInAsync($"bench:{n}", at.AddDays(n), Some(n), default);
        // One in five is over.
        await store.TakeInAsync("bench:4", at.AddDays(10), [], default);
    }

    private static IEnumerable<FoundMismatch> Some(int which) =>
        Enumerable
            .Range(0, Recorded)
            .Select(i => new FoundMismatch
            {
                Cause = i % 2 == 0 ? $"value.map.{i % Causes}" : "held.price.rises",
                SystemId = i % 3 == 0 ? "hub" : "shop",
                Kind = RecordKind.Item,
                Key = $"{which}-{i}",
                Scope = "lane",
                LaneId = "lane",
                Reference = $"GLZ-{i:000000}",
                Caption = Title(i),
                Words = "its category has no entry in the crosswalk",
                Subject = $"Shelves: {i % 400}",
                Worth = i % 2 == 0 ? null : i / 100m,
                Currency = i % 2 == 0 ? null : "EUR",
            });

    private static string Title(int i) => $"{Words[i % Words.Length]} glaze {Words[i / 10 % Words.Length]} no. {i}";

    private static void Plain(string folder)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "plain.db")}");
        connection.Open();
        using var make = connection.CreateCommand();
        make.CommandText =
            "PRAGMA journal_mode = WAL; CREATE TABLE Plain (Cause, SystemId, Key, Reference, Caption, Words, Subject, Worth)";
        make.ExecuteNonQuery();
        using var transaction = connection.BeginTransaction();
        using var insert = connection.CreateCommand();
        insert.CommandText = "INSERT INTO Plain VALUES ($0, $1, $2, $3, $4, $5, $6, $7)";
        for (var p = 0; p < 8; p++)
            insert.Parameters.Add(new SqliteParameter($"${p.ToString(CultureInfo.InvariantCulture)}", null));
        foreach (var f in Some(0))
        {
            object?[] row = [f.Cause, f.SystemId, f.Key, f.Reference, f.Caption, f.Words, f.Subject, (double?)f.Worth];
            for (var p = 0; p < row.Length; p++)
                insert.Parameters[p].Value = row[p] ?? DBNull.Value;
            insert.ExecuteNonQuery();
        }

        transaction.Commit();
    }

    private static async Task PagesAsync(string server, string data)
    {
        Database.ForgetConnections();
        var port = FreePort();
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true };
        foreach (var arg in new[] { server, "--urls", $"http://127.0.0.1:{port}", "--data", data, "--loopback", "yes" })
            start.ArgumentList.Add(arg);
        using var narbit = Process.Start(start)!;
        narbit.OutputDataReceived += (_, _) => { };
        narbit.BeginOutputReadLine();
        try
        {
            using var http = new HttpClient { BaseAddress = new Uri($"http://127.0.0.1:{port}") };
            await AnswersAsync(http);
            foreach (
                var path in new[]
                {
                    "/api/today",
                    "/api/mismatches/causes",
                    "/api/mismatches?limit=100",
                    "/api/mismatches?cause=held.price.rises&limit=100",
                    "/api/mismatches?cause=held.price.rises&limit=100&offset=150000",
                    "/api/mismatches?state=gone&limit=100",
                }
            )
                Console.WriteLine($"{path}: {await MiddleAsync(http, path):0.000} s in the middle of 9");
        }
        finally
        {
            narbit.Kill(entireProcessTree: true);
        }
    }

    private static async Task AnswersAsync(HttpClient http)
    {
        for (var begun = Stopwatch.StartNew(); begun.Elapsed < TimeSpan.FromMinutes(2); await Task.Delay(100))
            try
            {
                if ((await http.GetAsync("/api/lanes")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException)
            {
                // It is still starting.
            }
    }

    private static async Task<double> MiddleAsync(HttpClient http, string path)
    {
        await http.GetStringAsync(path);
        var took = new List<double>();
        for (var n = 0; n < 9; n++)
            took.Add(await TimedAsync(() => http.GetStringAsync(path)));
        return took.Order().ElementAt(4);
    }

    private static void Suggest()
    {
        List<KnownItem> items = [.. Enumerable.Range(0, 100_000).Select(i => new KnownItem($"{i}", $"GLZ-{i:000000}", Title(i)))];
        Dictionary<string, KnownItem>? plain = null;
        var baseline = Timed(() => plain = items.ToDictionary(i => i.Sku!, StringComparer.Ordinal));
        LikelyItems? likely = null;
        var made = Timed(() => likely = new LikelyItems(items));
        var found = 0;
        var asked = Timed(() =>
        {
            for (var i = 0; i < Unknown; i++)
                found += likely!.Of($"OLD-{i * 7}", Title(i * 7)) is { } item && item.Item.Key == $"{i * 7}" ? 1 : 0;
        });
        Console.WriteLine(
            $"{Unknown:N0} unknown SKUs among {items.Count:N0} items: {made + asked:0.00} s, {found:N0} of them right; "
                + $"baseline, a dictionary of {plain!.Count:N0} SKUs made: {baseline:0.000} s"
        );
    }

    private static double Timed(Action act)
    {
        var begun = Stopwatch.GetTimestamp();
        act();
        return Stopwatch.GetElapsedTime(begun).TotalSeconds;
    }

    private static async Task<double> TimedAsync(Func<Task> act)
    {
        var begun = Stopwatch.GetTimestamp();
        await act();
        return Stopwatch.GetElapsedTime(begun).TotalSeconds;
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
