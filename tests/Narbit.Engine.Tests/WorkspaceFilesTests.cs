using System.IO.Compression;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Guarding;
using Narbit.Core.Pairing;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Pairs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Pairing;
using Narbit.Engine.Workspaces.Files;

namespace Narbit.Engine.Tests;

/// <summary>A workspace as files: given out, looked at, taken in, and what is wrong said by file and line.</summary>
public sealed class WorkspaceFilesTests
{
    private static string Demo => Path.Combine(AppContext.BaseDirectory, "demo");

    [Fact]
    public async Task Given_out_taken_into_an_empty_folder_and_given_out_again_it_is_the_same_to_the_byte()
    {
        await using var empty = await EmptyData.OpenAsync();
        var files = DemoFiles();
        var taken = await empty.Import.TakeAsync(files, null, default);
        taken.Fault?.Words.ShouldBeNull();
        taken.Value.Changes.Select(c => c.File).ShouldContain("lanes/orders-web-shop.json");
        var out1 = await empty.Export.FilesAsync(default);
        Same(out1, files);

        var folder = Directory.CreateTempSubdirectory("narbit-files");
        await File.WriteAllTextAsync(Path.Combine(folder.FullName, "README.md"), "not one of ours");
        out1.Write(folder).ShouldBeNull();
        await using var other = await EmptyData.OpenAsync();
        (await other.Import.TakeAsync(WorkspaceFiles.Read(folder).Value, null, default)).Fault.ShouldBeNull();
        var out2 = await other.Export.FilesAsync(default);
        Same(out2, files);
        out2.Zip().ShouldBe(out1.Zip());

        // What is no more is taken out of the folder; what is not ours stays.
        WorkspaceFiles.Of(out1.All.Where(f => f.Key != "lanes/items-clay-lane.json")).Write(folder).ShouldBeNull();
        File.Exists(Path.Combine(folder.FullName, "lanes", "items-clay-lane.json")).ShouldBeFalse();
        File.Exists(Path.Combine(folder.FullName, "README.md")).ShouldBeTrue();
        folder.Delete(recursive: true);
    }

    [Fact]
    public async Task Jobs_and_days_off_go_along_and_an_interval_from_before_becomes_a_job()
    {
        await using var empty = await EmptyData.OpenAsync();
        var files = With(DemoFiles(), "jobs/market.json", MarketJob);
        files = With(
            files,
            "workspace.json",
            files["workspace.json"]!.Replace("\"people\"", "\"daysOff\": [{ \"date\": \"2026-12-25\" }], \"people\"")
        );
        files = With(
            files,
            "lanes/stock-web-shop.json",
            files["lanes/stock-web-shop.json"]!.Replace("\"paused\"", "\"everyMinutes\": 15, \"paused\"")
        );
        var report = await empty.Import.TakeAsync(files, null, default);
        report.Fault?.Words.ShouldBeNull();
        report.Value.Changes.Select(c => c.Words).ShouldContain("the job “Stock levels to web-shop” runs it every 15 minutes, all day");
        await using (var db = empty.Database.CreateDbContext())
        {
            var jobs = await db.Jobs.Include(j => j.Lanes).OrderBy(j => j.Id).ToListAsync();
            jobs.Select(j => (j.Id, j.Lanes.Count, j.AtOnce)).ShouldBe([("market", 2, true), ("stock-web-shop", 1, false)]);
            jobs.ShouldAllBe(j => j.NextDueAt != null);
        }

        var out1 = await empty.Export.FilesAsync(default);
        out1["jobs/market.json"].ShouldBe(MarketJob);
        out1["lanes/stock-web-shop.json"]!.ShouldNotContain("everyMinutes");
        await using var other = await EmptyData.OpenAsync();
        (await other.Import.TakeAsync(out1, null, default)).Fault.ShouldBeNull();
        Same(await other.Export.FilesAsync(default), out1);
        (await other.Import.LookAsync(out1, default)).Changes.ShouldBeEmpty("it is all there");

        // The same lanes under another name leave the job that they are in, and it is said before.
        var renamed = WorkspaceFiles.Of(
            out1.All.Select(f => KeyValuePair.Create(f.Key == "jobs/market.json" ? "jobs/fair.json" : f.Key, f.Value))
        );
        (await other.Import.LookAsync(renamed, default)).Means.ShouldContain(
            "The lane “orders-clay-lane” leaves the job “Market”: a lane is in one job only."
        );

        async Task<string> SaidAsync(string from, string to) =>
            (await other.Import.LookAsync(With(out1, "jobs/market.json", MarketJob.Replace(from, to)), default)).Faults[0].Words;
        (await SaidAsync("orders-clay-lane", "orders-nowhere")).ShouldBe("there is no lane “orders-nowhere”");
        (await SaidAsync("orders-clay-lane", "stock-web-shop")).ShouldContain("a lane is in one job only");
        (await SaidAsync("Europe/Dublin", "Moon/Crater")).ShouldContain("no time zone that is known here");
        (await SaidAsync("\"minutes\": 5", "\"minutes\": 0")).ShouldContain("must be from 1 to 1440");
    }

    private const string MarketJob = """
        {
          "format": "narbit/workspace-job/1",
          "job": {
            "name": "Market",
            "timetable": {
              "zone": "Europe/Dublin",
              "every": {
                "minutes": 5
              }
            },
            "lanes": [
              {
                "lane": "orders-clay-lane"
              },
              {
                "lane": "stock-clay-lane"
              }
            ],
            "whenAtWork": "wait",
            "whenMissed": "once",
            "whenFailed": "goOn",
            "againAfterMinutes": 5,
            "againTimes": 2,
            "atOnce": true,
            "off": false,
            "onTop": false
          }
        }

        """;

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Jobs_come_back_through_a_folder_and_through_an_archive(bool byFolder)
    {
        await using var first = await EmptyData.OpenAsync();
        var files = With(DemoFiles(), "jobs/market.json", MarketJob);
        (await first.Import.TakeAsync(files, null, default)).Fault.ShouldBeNull();
        var given = await first.Export.FilesAsync(default);
        var folder = Directory.CreateTempSubdirectory("narbit-jobs");
        var there = byFolder ? Written(given, folder) : WorkspaceFiles.Read(new MemoryStream(given.Zip())).Value;

        await using var second = await EmptyData.OpenAsync();
        (await second.Import.TakeAsync(there, null, default)).Fault.ShouldBeNull();
        (await JobsAsync(second)).ShouldBe(await JobsAsync(first));
        (await JobsAsync(second)).ShouldHaveSingleItem().ShouldStartWith("market Market");
        Same(await second.Export.FilesAsync(default), given);

        // A job that is no more is taken out of the folder.
        await using (var db = second.Database.CreateDbContext())
            await db.Jobs.ExecuteDeleteAsync();
        Written(await second.Export.FilesAsync(default), folder).All.Keys.ShouldNotContain("jobs/market.json");
        folder.Delete(recursive: true);
    }

    private static WorkspaceFiles Written(WorkspaceFiles files, DirectoryInfo folder)
    {
        files.Write(folder).ShouldBeNull();
        return WorkspaceFiles.Read(folder).Value;
    }

    // As the list of jobs shows them.
    private static async Task<List<string>> JobsAsync(EmptyData data)
    {
        await using var db = data.Database.CreateDbContext();
        var jobs = await db.Jobs.Include(j => j.Lanes).OrderBy(j => j.Id).ToListAsync();
        return
        [
            .. jobs.Select(j =>
                $"{j.Id} {j.Name} {j.Timetable} {j.AtOnce} {j.WhenFailed} "
                + string.Join(',', j.Lanes.OrderBy(l => l.Place).Select(l => l.LaneId))
            ),
        ];
    }

    [Fact]
    public async Task Pairs_kits_and_what_is_set_aside_go_along()
    {
        await using var bench = await Workbench.OpenAsync();
        await using (var db = bench.Database.CreateDbContext())
        {
            var couple = await db.Couples.FirstAsync();
            (await bench.Desk.PairAsync(couple.Id, read: true, default)).Fault.ShouldBeNull();
            var taken = await db.Links.Where(l => l.HubKey.CompareTo("10010") > 0).OrderBy(l => l.Id).Take(3).ToListAsync();
            var free = taken.Select(l => l.OtherKey).ToList();
            db.Links.RemoveRange(taken);
            await db.SaveChangesAsync();
            var made = await bench.Decisions.DecideAsync(
                couple.Id,
                [
                    new DecisionToMake(DecisionAct.Kit, OtherKey: free[0], Parts: [new KitItem("10001", 2), new KitItem("10002", 1.5m)]),
                    new DecisionToMake(DecisionAct.Share, "10003", free[1]),
                    new DecisionToMake(DecisionAct.SetAside, OtherKey: free[2], Reason: "a gift, \"not\" ours;\nreally"),
                ],
                "Tester",
                default
            );
            made.Fault?.Words.ShouldBeNull();
            (await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default)).Value.Committed.ShouldBe(3);
        }

        var files = await new WorkspaceExport(bench.Database).FilesAsync(default);
        await using var empty = await EmptyData.OpenAsync();
        var report = await empty.Import.TakeAsync(files, null, default);
        report.Fault?.Words.ShouldBeNull();
        Same(await empty.Export.FilesAsync(default), files);
        await using var there = empty.Database.CreateDbContext();
        (await there.Links.CountAsync(l => l.IsKit)).ShouldBe(2);
        (await there.SetAsides.SingleAsync()).Reason.ShouldBe("a gift, \"not\" ours;\nreally");
        (await there.Batches.SingleAsync()).Note.ShouldBe("from the files of a workspace");
        (await there.Systems.CountAsync(s => s.ProtectedCredential != null)).ShouldBe(0, "secrets stand in no file");
        report.Value.Changes.ShouldContain(c => c.File == "systems/web-shop.json" && c.Words.Contains("credentials"));
        (await empty.Import.LookAsync(files, default)).Changes.ShouldBeEmpty("it is all there");
    }

    [Fact]
    public async Task What_would_change_is_said_by_file_and_line_and_all_of_it_changes_or_nothing()
    {
        await using var data = await EmptyData.OpenAsync();
        var files = DemoFiles();
        (await data.Import.TakeAsync(files, null, default)).Fault.ShouldBeNull();
        var lane = files["lanes/stock-clay-lane.json"]!;
        var line = lane.Split('\n').ToList().FindIndex(l => l.Contains("\"cap\": 20")) + 1;
        var changed = With(files, "lanes/stock-clay-lane.json", lane.Replace("\"cap\": 20", "\"cap\": 15"));
        changed = With(changed, "workspace.json", changed["workspace.json"]!.Replace("\"point\"", "\"comma\""));
        changed = With(
            changed,
            "pairs/item-back-office-web-shop.csv",
            files["pairs/item-back-office-web-shop.csv"] + "10001,90001,pair,,\n"
        );
        var report = await data.Import.LookAsync(changed, default);
        report.Faults.ShouldBeEmpty();
        report
            .Changes.Select(c => (c.File, c.Line, c.Words))
            .ShouldBe([
                ("workspace.json", 7, "numbers: “point” becomes “comma”"),
                ("lanes/stock-clay-lane.json", line, "document.rule.cap: 20 becomes 15"),
                ("pairs/item-back-office-web-shop.csv", 2, "10001 is 90001"),
            ]);

        // Somebody changes the workspace between look and taking in.
        await using (var db = data.Database.CreateDbContext())
            await db.Workspaces.ExecuteUpdateAsync(s => s.SetProperty(w => w.Currency, "SEK"));
        (await data.Import.TakeAsync(changed, report.Basis, default)).Fault!.Code.ShouldBe("workspace.changed");
        var again = await data.Import.LookAsync(changed, default);
        again.Changes.Count.ShouldBe(4);
        again.Means.ShouldHaveSingleItem().ShouldStartWith("Nothing is converted");
        (await data.Import.TakeAsync(changed, again.Basis, default)).Fault.ShouldBeNull();

        await using var there = data.Database.CreateDbContext();
        var stock = await there.Lanes.FirstAsync(l => l.Id == "stock-clay-lane");
        stock.RuleNumber.ShouldBe(2);
        (await there.RuleVersions.FirstAsync(v => v.LaneId == stock.Id && v.Number == 2)).Document.ShouldContain("\"cap\":15");
        (await there.Lanes.FirstAsync(l => l.Id == "stock-web-shop")).RuleNumber.ShouldBe(1, "what is the same is no new version");
        (await there.DescriptionVersions.CountAsync(v => v.SystemId == "web-shop")).ShouldBe(1);
        Same(await data.Export.FilesAsync(default), changed);
    }

    [Fact]
    public async Task What_the_files_do_not_have_stays_and_a_pair_that_is_another_here_is_a_fault()
    {
        await using var data = await EmptyData.OpenAsync();
        var files = DemoFiles();
        const string table = "pairs/item-back-office-web-shop.csv";
        (await data.Import.TakeAsync(With(files, table, files[table] + "10001,90001,pair,,\n"), null, default)).Fault.ShouldBeNull();
        var fewer = WorkspaceFiles.Of(files.All.Where(f => f.Key != "lanes/items-clay-lane.json"));
        var report = await data.Import.LookAsync(fewer, default);
        report.Changes.ShouldBeEmpty();
        report.Stays.ShouldBe([
            "lanes/items-clay-lane.json is not among the files; what it holds stays",
            $"{table}: what is decided here and not in it stays (1)",
        ]);
        (await data.Import.TakeAsync(fewer, report.Basis, default)).Fault.ShouldBeNull();
        await using var db = data.Database.CreateDbContext();
        (await db.Links.CountAsync()).ShouldBe(1);
        (await db.Lanes.CountAsync()).ShouldBe(16);

        var otherwise = await data.Import.LookAsync(With(files, table, files[table] + "10002,90001,pair,,\n"), default);
        otherwise.Faults.Single().ShouldBe(new WorkspaceFault(table, 2, "here 10001 is 90001; unpair it first, or take the line out"));
        otherwise.Changes.ShouldBeEmpty();

        var aside = await data.Import.LookAsync(With(files, table, files[table] + "10001,,aside,,not ours\n"), default);
        aside.Faults.Single().Words.ShouldStartWith("here 10001 is 90001; unpair it first");
        var shared = await data.Import.TakeAsync(With(files, table, files[table] + "10001,90002,pair,,\n"), null, default);
        shared.Fault?.Words.ShouldBeNull();
        (await db.Decisions.Where(d => d.OtherKey == "90002").Select(d => d.Act).SingleAsync()).ShouldBe(DecisionAct.Share);

        await db
            .Lanes.Where(l => l.Id == "items-clay-lane")
            .ExecuteUpdateAsync(s => s.SetProperty(l => l.RemovedAt, DateTimeOffset.UtcNow));
        (await data.Import.LookAsync(files, default)).Faults.Single().Words.ShouldStartWith("the lane was removed here");
    }

    [Fact]
    public async Task Credentials_are_kept_where_the_system_stays_and_forgotten_where_it_moves()
    {
        await using var data = await EmptyData.OpenAsync();
        var files = DemoFiles();
        (await data.Import.TakeAsync(files, null, default)).Fault.ShouldBeNull();
        await using (var db = data.Database.CreateDbContext())
            await db.Systems.ExecuteUpdateAsync(s => s.SetProperty(x => x.ProtectedCredential, "kept").SetProperty(x => x.PausedBy, "Una"));
        var moved = WorkspaceFiles.Of(
            files.All.Select(f =>
                KeyValuePair.Create(
                    f.Key,
                    f.Key == "systems/web-shop.json" ? f.Value.Replace("http://127.0.0.1:5181", "https://shop.lanternmoor.example")
                        : f.Key == "systems/clay-lane.json" ? f.Value.Replace("/clay-lane/", "/clay-lane/v3/")
                        : f.Key == "workspace.json" ? f.Value.Replace("\"paused\": false", "\"paused\": true")
                        : f.Value
                )
            )
        );
        var means = (await data.Import.LookAsync(moved, default)).Means;
        means
            .ShouldHaveSingleItem()
            .ShouldStartWith("Lanternmoor Web Shop would be called at another place, https://shop.lanternmoor.example/");
        (await data.Import.TakeAsync(moved, null, default)).Fault.ShouldBeNull();
        await using var there = data.Database.CreateDbContext();
        var systems = await there.Systems.ToDictionaryAsync(s => s.Id);
        systems["web-shop"].ProtectedCredential.ShouldBeNull("somebody else would get it");
        systems["web-shop"].Address.ShouldBe("https://shop.lanternmoor.example/web-shop/");
        systems["clay-lane"].ProtectedCredential.ShouldBe("kept");
        systems["clay-lane"].PausedBy.ShouldBe("Una");
        (await there.DescriptionVersions.CountAsync(v => v.SystemId == "clay-lane")).ShouldBe(2);
        Same(await data.Export.FilesAsync(default), moved);
    }

    [Theory]
    [InlineData("workspace.json", "\"narbit/workspace/1\"", "\"narbit/workspace/2\"", null, "it was written by a newer Narbit")]
    [InlineData("workspace.json", "\"narbit/workspace/1\"", "\"other/thing/1\"", null, "“other/thing/1” is not narbit/workspace/1")]
    [InlineData("workspace.json", "\"hub\": \"back-office\"", "\"hub\": \"nowhere\"", 10, "“nowhere”, the hub, is none of the systems")]
    [InlineData("workspace.json", "\"id\": \"clay-lane\"", "\"id\": \"web-shop\"", 46, "“web-shop” stands here twice")]
    [InlineData("workspace.json", "\"id\": \"clay-lane\"", "\"id\": \"Clay Lane\"", 25, "a short name has small letters")]
    [InlineData("workspace.json", "\"id\": \"clay-lane\"", "\"id\": \"clay\"", 25, "systems/clay.json, which describes “clay”, is")]
    [InlineData("workspace.json", "Europe/Dublin", "Moor/Lantern", null, "“Moor/Lantern” is no time zone")]
    [InlineData("workspace.json", "\"country\"", "\"county\"", 6, "county")]
    [InlineData("systems/clay-lane.json", "\"mark\": \"CM\"", "\"mark\": \"BO\"", 5, "the mark BO is that of “back-office” already")]
    [InlineData("systems/clay-lane.json", "\"resources\"", "\"lists\"", null, "lists")]
    [InlineData("lanes/stock-clay-lane.json", "workspace-lane/1", "workspace-lane/7", null, "it was written by a newer Narbit")]
    [InlineData("lanes/stock-clay-lane.json", "\"to\": \"clay-lane\"", "\"to\": \"moor\"", 4, "“moor” is none of the systems")]
    [InlineData("lanes/stock-clay-lane.json", "\"to\": \"clay-lane\"", "\"to\": \"back-office\"", 4, "a lane needs two systems")]
    [InlineData(
        "lanes/stock-web-shop.json",
        "\"to\": \"web-shop\"",
        "\"to\": \"clay-lane\"",
        3,
        "the same flows from back-office to clay-lane in"
    )]
    [InlineData("lanes/stock-clay-lane.json", "\"cap\": 20", "\"cap\": twenty", 19, "")]
    [InlineData("lanes/stock-clay-lane.json", "\"kind\": \"stock\"", "\"kind\": \"weather\"", null, "")]
    [InlineData(
        "lanes/stock-clay-lane.json",
        "\"paused\": false",
        "\"everyMinutes\": 0, \"paused\": false",
        7,
        "every 1 minute to every 24"
    )]
    [InlineData(
        "pairs/item-back-office-web-shop.json",
        "\"other\": \"web-shop\"",
        "\"other\": \"clay-lane\"",
        null,
        "such a pairing is kept in"
    )]
    [InlineData("pairs/item-back-office-web-shop.csv", "reason", "reason\n10001,,pair,,", 2, "what: one of pair, part, aside, create")]
    [InlineData(
        "pairs/item-back-office-web-shop.csv",
        "reason",
        "reason\n1,2,pair,,\n3,2,pair,,",
        3,
        "2 is decided in another line already"
    )]
    [InlineData(
        "pairs/item-back-office-web-shop.csv",
        "reason",
        "reason\n1,2,pair,,\n1,,aside,,x",
        3,
        "1 is decided in another line already"
    )]
    [InlineData("pairs/item-back-office-web-shop.csv", "what", "which", null, "no column “what”")]
    public async Task What_is_wrong_is_said_by_file_and_line(string file, string text, string wrong, int? line, string said)
    {
        await using var data = await EmptyData.OpenAsync();
        var files = DemoFiles();
        files[file]!.ShouldContain(text);
        var faulty = With(files, file, files[file]!.Replace(text, wrong));
        var report = await data.Import.LookAsync(faulty, default);
        report.Changes.ShouldBeEmpty();
        var fault = report
            .Faults.Where(f => f.File == file && f.Words.Contains(said, StringComparison.Ordinal))
            .ToList()
            .ShouldHaveSingleItem();
        if (line is not null)
            fault.Line.ShouldBe(line);
        (await data.Import.TakeAsync(faulty, null, default)).Fault!.Code.ShouldBe("workspace.faulty");
        await using var db = data.Database.CreateDbContext();
        (await db.Workspaces.CountAsync() + await db.Systems.CountAsync() + await db.Lanes.CountAsync()).ShouldBe(0, "all or nothing");
    }

    [Theory]
    [InlineData("workspace.json", "is missing")]
    [InlineData("systems/clay-lane.json", "systems/clay-lane.json, which describes “clay-lane”, is missing")]
    [InlineData("pairs/item-back-office-web-shop.csv", "pairs/item-back-office-web-shop.csv, the table of its pairs, is missing")]
    [InlineData("pairs/item-back-office-web-shop.json", "which says what it pairs, is missing")]
    public async Task A_file_that_is_missing_is_missed(string file, string said)
    {
        await using var data = await EmptyData.OpenAsync();
        var report = await data.Import.LookAsync(WorkspaceFiles.Of(DemoFiles().All.Where(f => f.Key != file)), default);
        report.Faults.ShouldContain(f => f.Words.Contains(said));
    }

    [Fact]
    public async Task Two_lanes_of_one_name_and_a_description_that_nobody_names_are_faults()
    {
        await using var data = await EmptyData.OpenAsync();
        var files = DemoFiles();
        foreach (var lane in new[] { "lanes/stock-clay-lane.json", "lanes/stock-web-shop.json" })
            files = With(files, lane, files[lane]!.Replace("\"publishedOnly\"", "\"name\": \"Shelves\",\n  \"publishedOnly\""));
        files = With(files, "systems/old-shop.json", files["systems/web-shop.json"]!);
        var report = await data.Import.LookAsync(files, default);
        report.Faults.Select(f => (f.File, f.Line)).ShouldBe([("systems/old-shop.json", null), ("lanes/stock-web-shop.json", 5)]);
        report.Faults[1].Words.ShouldBe("lanes/stock-clay-lane.json is called “Shelves” too; tell them apart");
    }

    [Fact]
    public void An_archive_is_bounded_and_nothing_in_it_leads_elsewhere()
    {
        var files = DemoFiles();
        WorkspaceFiles.Read(new MemoryStream(files.Zip())).Value.Fingerprint.ShouldBe(files.Fingerprint);
        WorkspaceFiles.Read(new MemoryStream("no archive"u8.ToArray())).Fault!.Code.ShouldBe("workspace.unreadable");
        WorkspaceFiles.Read(new DirectoryInfo(Path.Combine(Demo, "nowhere"))).Fault!.Code.ShouldBe("workspace.noFolder");

        var inFolder = Zipped(files.All.Select(f => ($"kiln-main/{f.Key}", f.Value)).Append(("kiln-main/README.md", "words")));
        WorkspaceFiles.Read(inFolder).Value.Fingerprint.ShouldBe(files.Fingerprint);
        var elsewhere = Zipped([
            ("workspace.json", "{}"),
            ("../outside.json", "{}"),
            ("lanes/../../x.json", "{}"),
            ("lanes/.hidden.json", "{}"),
            ("lanes/a.txt", ""),
        ]);
        WorkspaceFiles.Read(elsewhere).Value.All.Keys.ShouldBe(["workspace.json"]);
        WorkspaceFiles
            .Read(Zipped(Enumerable.Range(0, 5_001).Select(i => ($"lanes/l{i}.json", ""))))
            .Fault!.Code.ShouldBe("workspace.tooLarge");
        var latin = new MemoryStream();
        using (var archive = new ZipArchive(latin, ZipArchiveMode.Create, leaveOpen: true))
        using (var entry = archive.CreateEntry("workspace.json").Open())
            entry.Write([0x7B, 0xFF, 0x7D]);
        WorkspaceFiles.Read(latin).Fault!.Code.ShouldBe("workspace.unreadable");
    }

    [Fact]
    public void Each_value_of_a_text_has_its_line()
    {
        const string text = "{\n  \"a\": [1,\n    {\"b\": \"two\"}],\n  // not this\n  \"c\": {},\n  \"d\": null }";
        var leaves = JsonLeaves.Of(text);
        leaves
            .Select(l => (l.Path, l.Value, l.Line))
            .ShouldBe([("a[0]", "1", 2), ("a[1].b", "“two”", 3), ("c", "{}", 5), ("d", "null", 6)]);
        JsonLeaves.LineOf(leaves, "a[1]").ShouldBe(3);
        JsonLeaves.LineOf(leaves, "a[2].b.c").ShouldBe(2, "where it would stand");
        WorkspaceText.SayTheSame(text, "{\"a\":[1,{\"b\":\"two\"}],\"c\":{},\"d\":null}").ShouldBeTrue();
        WorkspaceText.SayTheSame(text, "{\"a\":[1,{\"b\":\"2\"}],\"c\":{},\"d\":null}").ShouldBeFalse();
    }

    [Fact]
    public void A_guard_that_was_taken_away_stays_away_in_a_file()
    {
        var file = new LaneFile
        {
            Format = LaneFile.CurrentFormat,
            Document = new StockDocument(new StockRule()),
            Guards = new GuardLimits { ToZero = null, Removed = 7 },
        };
        var text = LaneFiles.Write(file);
        text.ShouldContain("\"toZero\": null");
        text.ShouldNotContain("skuStartsWith", Case.Sensitive, "what is null anyway is left out");
        LaneFiles.Read(text, out _)!.Guards.ShouldBe(file.Guards);
    }

    [Fact]
    public async Task Keys_that_a_spreadsheet_would_take_for_formulas_come_back_as_they_were()
    {
        await using var data = await EmptyData.OpenAsync();
        var lines = new[] { "=1+1", "-x", "'quoted", "a,b", "@home" }.Select(k => new WorkspacePairLine(
            k,
            $"o{k}",
            PairLineKind.Pair,
            1,
            null
        ));
        const string table = "pairs/item-back-office-web-shop.csv";
        var files = With(DemoFiles(), table, WorkspaceText.WriteLines(lines.OrderBy(l => l.HubKey, StringComparer.Ordinal)));
        files[table]!.ShouldContain("'=1+1");
        (await data.Import.TakeAsync(files, null, default)).Fault.ShouldBeNull();
        await using var db = data.Database.CreateDbContext();
        (await db.Links.Select(l => l.HubKey).ToListAsync()).ShouldBe(["'quoted", "-x", "=1+1", "@home", "a,b"], ignoreOrder: true);
        Same(await data.Export.FilesAsync(default), files);
    }

    private static WorkspaceFiles DemoFiles() => WorkspaceFiles.Read(new DirectoryInfo(Demo)).Value;

    private static WorkspaceFiles With(WorkspaceFiles files, string path, string text) =>
        WorkspaceFiles.Of(files.All.Where(f => f.Key != path).Append(KeyValuePair.Create(path, text)));

    private static void Same(WorkspaceFiles one, WorkspaceFiles other)
    {
        one.All.Keys.ShouldBe(other.All.Keys);
        foreach (var (path, text) in one.All)
            text.ShouldBe(other[path], path);
    }

    private static MemoryStream Zipped(IEnumerable<(string Path, string Text)> files)
    {
        var content = new MemoryStream();
        using (var archive = new ZipArchive(content, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var (path, text) in files)
                using (var entry = archive.CreateEntry(path).Open())
                    entry.Write(Encoding.UTF8.GetBytes(text));
        content.Position = 0;
        return content;
    }

    // A data folder with nothing in it.
    private sealed class EmptyData : IAsyncDisposable
    {
        private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-empty");

        private EmptyData() => Database = new Database(Path.Combine(_folder.FullName, "narbit.db"));

        public Database Database { get; }

        public WorkspaceExport Export => new(Database);

        public WorkspaceImport Import => new(Database, TimeProvider.System);

        public static async Task<EmptyData> OpenAsync()
        {
            var data = new EmptyData();
            await File.WriteAllBytesAsync(data.Database.Path, await Workbench.EmptyDatabaseAsync());
            return data;
        }

        public ValueTask DisposeAsync()
        {
            Database.ForgetConnections();
            _folder.Delete(recursive: true);
            return ValueTask.CompletedTask;
        }
    }
}
