using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.Data.Sqlite;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Systems;
using Narbit.Engine;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Bench;

/// <summary>
/// Reads the back office's items, or the web shop's orders with their lines, of a sandbox (its address is the first argument) into a
/// mirror, then inserts the same rows into the same table by prepared statements in one transaction, and says how the two compare.
/// </summary>
internal static partial class MirrorBench
{
    [GeneratedRegex("\"requestsPerSecond\": [0-9]+")]
    private static partial Regex Rate { get; }

    public static async Task RunAsync(string[] args)
    {
        var sandbox = args[0].TrimEnd('/');
        var orders = args is [_, _, "orders"];
        var (id, kind, secret) = orders
            ? ("web-shop", RecordKind.Order, "narbit:shopfront-demo")
            : ("back-office", RecordKind.Item, ":kilnyard-demo-key");
        var folder = Directory.CreateTempSubdirectory("narbit-bench");
        try
        {
            var database = new Database(Path.Combine(folder.FullName, "mirror.db"));
            await database.MigrateAsync();
            var text = await File.ReadAllTextAsync(Path.Combine(args[1], $"{id}.json"));
            await using (var db = database.CreateDbContext())
            {
                db.Systems.Add(
                    new ConnectedSystem
                    {
                        Id = id,
                        Name = id,
                        Kind = orders ? SystemKind.WebStore : SystemKind.Erp,
                        Mark = orders ? "WS" : "BO",
                        Currency = "EUR",
                        // The stand-in bears more than the demo asks of it; the figure is about Narbit.
                        Document = Rate.Replace(text, "\"requestsPerSecond\": 1000"),
                        Address = $"{sandbox}/{id}/",
                        ProtectedCredential = secret,
                    }
                );
                await db.SaveChangesAsync();
            }

            var adapters = new AdapterSource(database, new NoVault(), new OutboundPolicy(AllowLoopback: true), TimeProvider.System);
            var reader = new MirrorReader(database, adapters, new LiveFeed(), TimeProvider.System);
            var first = await TimeAsync(() => reader.ReadAsync(id, kind, full: true, default));
            var again = await TimeAsync(() => reader.ReadAsync(id, kind, full: true, default));
            var memory = Peak();
            var baseline = await BaselineAsync(database, Path.Combine(folder.FullName, "baseline.db"));
            var what = orders ? "orders read into the mirror   " : "items read into the mirror    ";
            Console.WriteLine($"{what}{first.Records, 10:N0}   {first.Seconds:0.00} s");
            Console.WriteLine($"the same again, unchanged     {again.Changed, 10:N0} written   {again.Seconds:0.00} s");
            Console.WriteLine($"baseline: prepared inserts    {baseline.Rows, 10:N0}   {baseline.Seconds:0.00} s");
            Console.WriteLine($"ratio to the baseline         {first.Seconds / baseline.Seconds, 10:0.00}   (at most 3)");
            Console.WriteLine($"memory at its peak            {memory, 10:0} MB  (at most 300)");
        }
        finally
        {
            SqliteConnection.ClearAllPools();
            folder.Delete(recursive: true);
        }
    }

    private static async Task<(double Seconds, int Records, int Changed)> TimeAsync(Func<Task<Outcome<Narbit.Data.Mirror.MirrorRead>>> read)
    {
        var started = Stopwatch.GetTimestamp();
        var outcome = await read();
        if (outcome.Fault is { } fault)
            throw new InvalidOperationException(fault.Words);
        return (Stopwatch.GetElapsedTime(started).TotalSeconds, outcome.Value.Records, outcome.Value.Changed);
    }

    public static double Peak()
    {
        var line = File.ReadLines("/proc/self/status").First(l => l.StartsWith("VmHWM", StringComparison.Ordinal));
        return double.Parse(line.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)[1], CultureInfo.InvariantCulture) / 1024;
    }

    // The schema of the mirror's table with its indexes, and nothing but SQLite.
    private static async Task<(double Seconds, int Rows)> BaselineAsync(Database mirror, string path)
    {
        var target = new Database(path);
        await target.MigrateAsync();
        await using var source = await mirror.OpenAsync(bulk: true, default);
        await using var into = await target.OpenAsync(bulk: true, default);
        const string columns = "SystemId, Kind, Key, Parent, Reference, Caption, Hash, Raw, \"Values\", Problems, ChangedAt, Children";
        var rows = new List<object[]>();
        await using (var select = source.CreateCommand())
        {
            select.CommandText = $"SELECT {columns} FROM Records ORDER BY Id";
            await using var row = await select.ExecuteReaderAsync();
            while (row.Read())
            {
                var values = new object[12];
                row.GetValues(values);
                rows.Add(values);
            }
        }

        var started = Stopwatch.GetTimestamp();
        await using (var transaction = (SqliteTransaction)await into.BeginTransactionAsync())
        {
            await using var insert = into.CreateCommand();
            insert.Transaction = transaction;
            insert.CommandText =
                $"INSERT INTO Records ({columns}) VALUES ({string.Join(", ", Enumerable.Range(0, 12).Select(i => $"$p{i}"))})";
            for (var i = 0; i < 12; i++)
                insert.Parameters.Add(new SqliteParameter($"$p{i}", null));
            insert.Prepare();
            foreach (var values in rows)
            {
                for (var i = 0; i < 12; i++)
                    insert.Parameters[i].Value = values[i];
                insert.ExecuteNonQuery();
            }

            await transaction.CommitAsync();
        }

        return (Stopwatch.GetElapsedTime(started).TotalSeconds, rows.Count);
    }
}

internal sealed class NoVault : ICredentialVault
{
    public string Protect(Credential credential) => credential.Secret;

    public Outcome<Credential> Open(string protectedCredential)
    {
        var parts = protectedCredential.Split(':', 2);
        return new Credential(parts[0].Length == 0 ? null : parts[0], parts[1]);
    }
}
