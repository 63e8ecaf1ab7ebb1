using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Data.Systems;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Reading;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Bench;

/// <summary>Items with twelve mapped fields, compared and planned: in Narbit's database, and from file to file.</summary>
internal static class PlanBench
{
    private static readonly string[] Columns =
    [
        "key",
        "sku",
        "title",
        "option",
        "barcode",
        "category",
        "details",
        "weight",
        "brand",
        "tax",
        "length",
        "supplier",
        "published",
    ];

    /// <summary>
    /// Writes two tables of which 5 % of the rows differ, some in several fields, and some are on one side alone; with a lane that maps
    /// every field as it is.
    /// </summary>
    public static void Write(int count, string folder)
    {
        var dice = new Random(7);
        string[] colours = ["Celadon", "Tenmoku", "Shino", "Oatmeal", "Rust Red", "Lagoon", "Moss", "Plum"];
        string[] categories = ["Glazes › Brush-on", "Glazes › Dipping", "Clays › Stoneware", "Tools › Ribs", "Kilns"];
        using var left = new StreamWriter(Path.Combine(folder, "left.csv"), false, new UTF8Encoding(false));
        using var right = new StreamWriter(Path.Combine(folder, "right.csv"), false, new UTF8Encoding(false));
        foreach (var file in new[] { left, right })
            file.Write(string.Join(',', Columns) + "\n");
        for (var i = 0; i < count; i++)
        {
            var key = (10_000 + i).ToString(CultureInfo.InvariantCulture);
            var size = (i % 4) switch
            {
                0 => "250 ml",
                1 => "500 ml",
                2 => "1 l",
                _ => "5 l",
            };
            var colour = colours[i % colours.Length];
            string[] row =
            [
                key,
                $"GLZ-{i:D6}",
                $"\"{colour} glaze {i / 4}, brush-on {size}\"",
                size,
                $"95288{i:D8}",
                categories[i % categories.Length],
                $"\"<p>{colour} glaze for the studio, in a jar of {size}; stir well before use, two coats.</p><ul><li>food safe "
                    + $"once fired</li><li>{size}</li></ul>\"",
                (0.25m + i % 40 * 0.05m).ToString(CultureInfo.InvariantCulture),
                i % 3 == 0 ? "Kilnyard" : "Northfold",
                i % 5 == 0 ? "R" : "S",
                (80 + i % 60).ToString(CultureInfo.InvariantCulture),
                $"NM-{i % 900:D4}",
                i % 50 == 0 ? "false" : "true",
            ];
            if (i % 1000 != 999)
                left.Write(string.Join(',', row) + "\n");
            if (i % 1000 == 500)
                continue;
            // One in twenty differs, in one to three fields.
            if (i % 20 == 3)
            {
                for (var n = dice.Next(1, 4); n > 0; n--)
                {
                    var at = dice.Next(1, row.Length);
                    row[at] = row[at].EndsWith('"') ? row[at][..^1] + $" no. {i}\"" : $"{row[at]}{i % 9 + 1}";
                }
            }

            right.Write(string.Join(',', row) + "\n");
        }

        File.WriteAllText(
            Path.Combine(folder, "lane.json"),
            JsonSerializer.Serialize(
                new LaneFile
                {
                    Format = LaneFile.CurrentFormat,
                    Document = new ItemDocument(
                        new FieldMap
                        {
                            Fields = [.. Columns.Skip(1).Select(c => new FieldMapping { Target = c, Source = new MapSource([c]) })],
                            Publish = new PublishRule { New = NewRecords.All },
                        }
                    ),
                    Guards = GuardLimits.None,
                },
                LaneJson.Options
            )
        );
    }

    /// <summary>
    /// Reads both tables into a mirror, pairs them by their keys, and makes a lane of twelve fields with steps between them.
    /// </summary>
    public static async Task StoreAsync(string folder)
    {
        var database = new Database(Path.Combine(folder, "narbit.db"));
        await database.MigrateAsync();
        await using (var db = database.CreateDbContext())
        {
            foreach (var (id, file) in new[] { ("here", "left"), ("there", "right") })
            {
                Directory.CreateDirectory(Path.Combine(folder, id, "out"));
                File.Copy(Path.Combine(folder, $"{file}.csv"), Path.Combine(folder, id, "out", "items_20261126-120000.csv"));
                db.Systems.Add(
                    new ConnectedSystem
                    {
                        Id = id,
                        Name = id,
                        Kind = SystemKind.WebStore,
                        Mark = "XX",
                        Currency = "EUR",
                        Address = id,
                        Document = Describe(id),
                    }
                );
            }

            db.Workspaces.Add(
                new Workspace
                {
                    Name = "Bench",
                    TimeZone = "UTC",
                    HubId = "here",
                    Person = "Bench",
                }
            );
            db.Couples.Add(
                new Couple
                {
                    HubId = "here",
                    OtherId = "there",
                    Kind = RecordKind.Item,
                }
            );
            db.Lanes.Add(
                new Lane
                {
                    Id = "items",
                    Kind = "item",
                    SourceId = "here",
                    TargetId = "there",
                    RuleNumber = 1,
                }
            );
            db.RuleVersions.Add(
                new RuleVersion
                {
                    LaneId = "items",
                    Number = 1,
                    Document = LaneJson.Write(new ItemDocument(Map)),
                    Guards = RuleJson.Write(new GuardLimits()),
                    Author = "Bench",
                    At = DateTimeOffset.UtcNow,
                }
            );
            await db.SaveChangesAsync();
        }

        var reader = new MirrorReader(database, Adapters(database, folder), new LiveFeed(), TimeProvider.System);
        foreach (var id in new[] { "here", "there" })
            if ((await reader.ReadSystemAsync(id, full: true, default)).Fault is { } fault)
                throw new InvalidOperationException(fault.Words);
        await using var linked = database.CreateDbContext();
        linked.Decisions.Add(
            new PairDecision
            {
                CoupleId = 1,
                Act = DecisionAct.Accept,
                State = DecisionState.Committed,
                Evidence = "by key",
                By = "Bench",
                At = DateTimeOffset.UtcNow,
            }
        );
        await linked.SaveChangesAsync();
        await linked.Database.ExecuteSqlRawAsync(
            "INSERT INTO Links (CoupleId, HubKey, OtherKey, Quantity, IsKit, DecisionId) SELECT 1, a.Key, b.Key, '1.0', 0, 1 "
                + "FROM Records a JOIN Records b ON b.SystemId = 'there' AND b.Kind = 'Item' AND b.Key = a.Key WHERE "
                + "a.SystemId = 'here' AND a.Kind = 'Item'"
        );
    }

    /// <summary>
    /// Compares and stores the change set in a process of its own: once as the first thing it does, and once more, as a server does it
    /// that has been running for a while.
    /// </summary>
    public static async Task RunAsync(string folder)
    {
        var database = new Database(Path.Combine(folder, "narbit.db"));
        var lane = (await OpenLane.ForAsync(database, Adapters(database, folder), "items", default)).Value;
        var took = new List<double>();
        foreach (var which in new[] { "first", "again" })
        {
            var run = new Run
            {
                LaneId = "items",
                Preview = true,
                Trigger = RunTrigger.Person,
                StartedBy = "Bench",
                State = RunState.Working,
                Phase = RunPhase.Compute,
                StartedAt = DateTimeOffset.UtcNow,
            };
            await using (var db = database.CreateDbContext())
            {
                db.Runs.Add(run);
                await db.SaveChangesAsync();
            }

            var started = Stopwatch.GetTimestamp();
            if (await new PlanStep(database, TimeProvider.System).PlanAsync(run, lane, default) is { } fault)
                throw new InvalidOperationException(fault.Words);
            var seconds = Stopwatch.GetElapsedTime(started).TotalSeconds;
            took.Add(seconds);
            var memory = MirrorBench.Peak();
            await using var after = database.CreateDbContext();
            var (writes, fields) = (
                await after.Writes.CountAsync(w => w.RunId == run.Id),
                await after.WriteFields.CountAsync(f => after.Writes.Any(w => w.Id == f.WriteId && w.RunId == run.Id))
            );
            await after.Runs.Where(r => r.Id == run.Id).ExecuteUpdateAsync(s => s.SetProperty(r => r.State, RunState.Superseded));
            Console.WriteLine(
                $"{which}: {run.Paired:N0} items × {lane.Sides.Target.Fields.Count} fields compared, {writes:N0} changes of "
                    + $"{fields:N0} fields stored: {seconds:0.00} s, {memory:0} MB at its peak (at most 5 s and 600 MB)"
            );
        }

        var baseline = await BaselineAsync(database);
        Console.WriteLine(
            $"baseline: {baseline:0.00} s merely to read both sides' rows and parse their values; ratios "
                + $"{string.Join(" and ", took.Select(t => (t / baseline).ToString("0.0", CultureInfo.InvariantCulture)))}"
        );
    }

    /// <summary>What a person waits for while they edit a map: its whole effect, one record of it, and suggestions for all of it.</summary>
    public static async Task EditAsync(string folder)
    {
        var database = new Database(Path.Combine(folder, "narbit.db"));
        var adapters = Adapters(database, folder);
        var trial = new LaneTrial(database, adapters, TimeProvider.System);
        var look = new MapLook(database, adapters);
        var map = new ItemDocument(Map);
        for (var round = 1; round <= 2; round++)
        {
            var whole = await SecondsAsync(async () => (await trial.TryAsync("items", map, null, "title", default)).Value.Records);
            var first = await SecondsAsync(async () => (await look.RecordAsync("items", Map, null, default)).Value.Fields.Count);
            var last = await SecondsAsync(async () => (await look.RecordAsync("items", Map, "109000", default)).Value.Fields.Count);
            var suggest = await SecondsAsync(async () => (await look.SuggestAsync("items", new FieldMap(), default)).Value.Count);
            Console.WriteLine(
                $"while editing: the effect on all {whole.Seconds:0.00} s; one record {first.Seconds:0.00} s, the last "
                    + $"{last.Seconds:0.00} s; {suggest.Count} suggestions {suggest.Seconds:0.00} s; baseline "
                    + $"{await BaselineAsync(database):0.00} s"
            );
        }

        static async Task<(double Seconds, int Count)> SecondsAsync(Func<Task<int>> work)
        {
            var started = Stopwatch.GetTimestamp();
            var count = await work();
            return (Stopwatch.GetElapsedTime(started).TotalSeconds, count);
        }
    }

    private static async Task<double> BaselineAsync(Database database)
    {
        var started = Stopwatch.GetTimestamp();
        await using var connection = await database.OpenAsync(bulk: true, default);
        await using var select = connection.CreateCommand();
        select.CommandText =
            "SELECT Key, Parent, Reference, Caption, \"Values\", Problems, ChangedAt FROM Records WHERE Kind = 'Item' AND GoneAt IS "
            + "NULL ORDER BY SystemId, Id";
        await using var row = await select.ExecuteReaderAsync();
        var values = 0L;
        while (row.Read())
            values += JsonSerializer.Deserialize<Dictionary<string, string>>(row.GetString(4))!.Count;
        return values > 0 ? Stopwatch.GetElapsedTime(started).TotalSeconds : throw new InvalidOperationException("nothing was read");
    }

    // Each of the usual sorts of step once, and the rest as it is.
    private static FieldMap Map { get; } =
        new()
        {
            Fields =
            [
                Field("sku", new MapStep("trim")),
                Field("title", new MapStep("collapse"), new MapStep("limit", new Dictionary<string, string> { ["length"] = "120" })),
                Field("option"),
                Field("barcode", new MapStep("case", new Dictionary<string, string> { ["to"] = "upper" })),
                Field("category", new MapStep("crosswalk", new Dictionary<string, string> { ["table"] = "Category" })),
                Field("details", new MapStep("sanitise")),
                Field("weight"),
                Field("brand"),
                Field("tax"),
                Field("length"),
                Field("supplier"),
                Field("published"),
            ],
            Crosswalks = [new Crosswalk { Name = "Category", Unlisted = Unlisted.Keep }],
        };

    private static FieldMapping Field(string name, params MapStep[] steps) =>
        new()
        {
            Target = name,
            Source = new MapSource([name]),
            Steps = steps,
        };

    private static string Describe(string id)
    {
        string Type(string column) =>
            column switch
            {
                "weight" => "weight",
                "length" => "length",
                "published" => "boolean",
                "details" => "html",
                "tax" => "code",
                _ => "text",
            };
        string Role(string column) =>
            column switch
            {
                "sku" => "sku",
                "title" => "title",
                "option" => "option",
                "barcode" => "barcode",
                "category" => "category",
                "published" => "published",
                "weight" => "weight",
                _ => "none",
            };
        return JsonSerializer.Serialize(
            new
            {
                format = "narbit/file-system/1",
                name = id,
                kind = "webStore",
                mark = "XX",
                currency = "EUR",
                address = id,
                @out = "out",
                archive = "out/archive",
                @in = "in",
                settleSeconds = 0.01,
                resources = new[]
                {
                    new
                    {
                        kind = "item",
                        label = "items",
                        file = "items_{time}.csv",
                        key = "key",
                        fields = Columns
                            .Skip(1)
                            .Select(c => new
                            {
                                name = c,
                                label = c,
                                column = c,
                                type = Type(c),
                                role = Role(c),
                                writeAs = c,
                            }),
                        write = new
                        {
                            file = "update_{time}.csv",
                            key = "key",
                            delimiter = ",",
                            encoding = "utf-8",
                            batchSize = 200,
                        },
                    },
                },
            }
        );
    }

    private static AdapterSource Adapters(Database database, string folder) =>
        new(database, new NoVault(), new OutboundPolicy(AllowLoopback: true, folder), TimeProvider.System);
}
