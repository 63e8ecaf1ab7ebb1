using System.Diagnostics;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;

namespace Narbit.Bench;

/// <summary>
/// How long others wait while a change set of very many writes is stored, beside the same in one transaction; and how long it takes to see
/// whether anything of a system is new among a million records, with the index for it and without.
/// </summary>
internal static class WaitBench
{
    private const int Writes = 200_000;
    private const int Records = 1_000_000;
    private const int Archived = 20_000;

    public static async Task RunAsync(string folder)
    {
        var database = new Database(Path.Combine(folder, "narbit.db"));
        await database.MigrateAsync();
        var run = await RunAsync(database);
        var plan = new RunPlan([.. Enumerable.Range(0, Writes).Select(i => Write(run.Id, i))], [], []);
        var store = new RunStore(database);
        Say("in short steps", await WithOthersAsync(database, () => store.StorePlanAsync(run, plan, default)));
        Say("in one transaction", await WithOthersAsync(database, () => store.AddAsync(plan.Writes, [], default)));
        await NewsAsync(database);
        await ArchiveAsync(folder);
    }

    // A folder is looked at every few seconds, whatever was ever put away in it.
    private static async Task ArchiveAsync(string folder)
    {
        var archive = Directory.CreateDirectory(Path.Combine(folder, "quay-street-till", "out", "archive"));
        var first = new DateTime(2020, 1, 1, 0, 0, 0, DateTimeKind.Utc);
        for (var n = 0; n < Archived; n++)
            File.WriteAllText(Path.Combine(archive.FullName, $"articles_{first.AddHours(n):yyyyMMdd-HHmmss}.csv"), "PLU;Code\r\n");
        var document = SystemDocument.Read(await File.ReadAllTextAsync("demo/systems/quay-street-till.json")).Value;
        using var adapter = document.Adapter("quay-street-till", null, new OutboundPolicy(false, folder), TimeProvider.System).Value;
        var looks = new List<TimeSpan>();
        for (var n = 0; n < 20; n++)
        {
            var begun = Stopwatch.GetTimestamp();
            await adapter.StampAsync(Core.Records.RecordKind.Item, default);
            looks.Add(Stopwatch.GetElapsedTime(begun));
        }

        var listed = Stopwatch.GetTimestamp();
        _ = archive.GetFiles().Max(f => f.LastWriteTimeUtc);
        Console.WriteLine(
            $"a look at a folder with {Archived:N0} files put away: the first {looks[0].TotalMilliseconds:0.0} ms, each later one "
                + $"{looks.Skip(1).Average(l => l.TotalMilliseconds):0.00} ms; merely listing them "
                + $"{Stopwatch.GetElapsedTime(listed).TotalMilliseconds:0} ms"
        );
    }

    private static async Task<Run> RunAsync(Database database)
    {
        await using var db = database.CreateDbContext();
        var run = new Run
        {
            LaneId = "prices",
            Trigger = RunTrigger.Person,
            StartedBy = "Ines O.",
            State = RunState.Working,
            Phase = RunPhase.Compute,
            StartedAt = DateTimeOffset.UtcNow,
        };
        db.Runs.Add(run);
        db.KeptOff.Add(new KeptOff { LaneId = "prices", SourceKey = "0" });
        await db.SaveChangesAsync();
        return run;
    }

    private static PlannedWrite Write(long run, int i)
    {
        var key = (100_000 + i).ToString(CultureInfo.InvariantCulture);
        return new PlannedWrite
        {
            RunId = run,
            SourceKey = key,
            TargetKey = $"T{key}",
            Reference = $"GLZ-{key}",
            Caption = "Celadon glaze, brush-on 250 ml",
            IdempotencyKey = $"1-{key}",
            Fields =
            [
                new PlannedField
                {
                    Field = "price",
                    Old = "12.50",
                    New = "13.99",
                    Trace =
                        """[{"label":"price list","value":"11.20"},{"label":"tax","value":"13.78"},{"label":"ending","value":"13.99"}]""",
                },
            ],
        };
    }

    // Somebody else saves something small all the while, as a person or another run does.
    private static async Task<(TimeSpan Took, List<TimeSpan> Waits)> WithOthersAsync(Database database, Func<Task> work)
    {
        // What it takes to be compiled is no waiting.
        await SaveAsync(database);
        var (waits, begun) = (new List<TimeSpan>(), Stopwatch.GetTimestamp());
        var working = Task.Run(work);
        while (!working.IsCompleted)
        {
            await Task.Delay(10);
            var asked = Stopwatch.GetTimestamp();
            await SaveAsync(database);
            waits.Add(Stopwatch.GetElapsedTime(asked));
        }

        await working;
        return (Stopwatch.GetElapsedTime(begun), waits);
    }

    private static async Task SaveAsync(Database database)
    {
        await using var db = database.CreateDbContext();
        await db.KeptOff.Where(k => k.SourceKey == "0").ExecuteUpdateAsync(s => s.SetProperty(k => k.SourceKey, "0"));
    }

    private static void Say(string how, (TimeSpan Took, List<TimeSpan> Waits) measured)
    {
        var sorted = measured.Waits.Order().ToList();
        var (half, most, worst) = (sorted[sorted.Count / 2], sorted[sorted.Count * 99 / 100], sorted[^1]);
        Console.WriteLine(
            $"{Writes:N0} writes {how}: {measured.Took.TotalSeconds:0.0} s; {sorted.Count} others, half of them within "
                + $"{half.TotalMilliseconds:0} ms, 99 of 100 within {most.TotalMilliseconds:0} ms, "
                + $"the longest {worst.TotalMilliseconds:0} ms"
        );
    }

    private static async Task NewsAsync(Database database)
    {
        await using (var db = database.CreateDbContext())
        {
            await db.Database.ExecuteSqlAsync(
                $"""
                WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {Records})
                INSERT INTO Records (SystemId, Kind, "Key", Hash, Raw, "Values", FirstReadAt, ChangedAt)
                SELECT 'office', 'Item', i, x'00', {new string('x', 300)}, '', 1, i FROM n
                """
            );
        }

        var with = await NewestAsync(database);
        await using (var db = database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync("DROP INDEX \"IX_Records_SystemId_Kind_ChangedAt\"");
        var without = await NewestAsync(database);
        Console.WriteLine(
            $"what is new among {Records:N0} records: {with.TotalMilliseconds:0.0} ms, without its index {without.TotalMilliseconds:0} ms "
                + $"({without / with:0} times)"
        );
    }

    private static async Task<TimeSpan> NewestAsync(Database database)
    {
        var best = TimeSpan.MaxValue;
        for (var n = 0; n < 5; n++)
        {
            await using var db = database.CreateDbContext();
            var since = new DateTimeOffset(Records - 3, TimeSpan.Zero);
            var begun = Stopwatch.GetTimestamp();
            var found = await db
                .Records.Where(r => r.SystemId == "office" && r.Kind == Core.Records.RecordKind.Item && r.ChangedAt >= since)
                .Select(r => r.Key)
                .ToListAsync();
            best = Stopwatch.GetElapsedTime(begun) is var took && took < best ? took : best;
            if (found.Count != 4)
                throw new InvalidOperationException($"{found.Count} records are new, not 4.");
        }

        return best;
    }
}
