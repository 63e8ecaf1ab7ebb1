using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Adapters;
using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data.Runs;

namespace Narbit.Engine.Tests;

public sealed class FileAdapterTests : IDisposable
{
    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-files");
    private readonly FakeTimeProvider _clock = new(DateTimeOffset.UtcNow.AddMinutes(10));

    public FileAdapterTests()
    {
        foreach (var folder in new[] { "till/out", "till/in" })
            Directory.CreateDirectory(Path.Combine(_folder.FullName, folder));
    }

    public void Dispose() => _folder.Delete(recursive: true);

    [Fact]
    public async Task The_newest_file_by_the_time_in_its_name_is_read_and_what_was_read_is_put_away()
    {
        Write("articles_20261124-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Old;1,00;1\r\n");
        Write("articles_20261125-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Newest;2,50;3\r\n");
        Write("articles_20261124-230000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Middle;1,50;2\r\n");
        Write("notes.csv", "nothing;of;interest\r\n");
        var adapter = Adapter();
        var page = (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Value;
        page.Records.ShouldHaveSingleItem()
            .Values.ShouldBe(
                new Dictionary<string, string>
                {
                    ["sku"] = "A",
                    ["title"] = "Newest",
                    ["price"] = "2.5",
                    ["quantity"] = "3",
                },
                ignoreOrder: true
            );
        // What is older than a list of everything holds nothing more; it all stays where it is until the list is stored.
        Names("till/out").Length.ShouldBe(4);
        Write("articles_20261124-235900.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Late;1,50;2\r\n");
        await adapter.StoredAsync(RecordKind.Item, default);
        Names("till/out").ShouldBe(["articles_20261124-235900.csv", "notes.csv"], "what came late was not read");
        Names("till/out/archive")
            .ShouldBe(["articles_20261124-060000.csv", "articles_20261124-230000.csv", "articles_20261125-060000.csv"]);
        // Nothing new came: what was read last is still what the till holds.
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default))
            .Value.Records.ShouldHaveSingleItem()
            .Values["title"]
            .ShouldBe("Newest");
    }

    [Fact]
    public async Task A_file_that_is_still_being_written_is_left_alone()
    {
        Write("articles_20261124-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Whole;1,00;1\r\n");
        Write("articles_20261125-060000.csv.part", "PLU;Code;Art");
        var half = Write("articles_20261125-070000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Half");
        File.SetLastWriteTimeUtc(half, _clock.GetUtcNow().UtcDateTime);
        var adapter = Adapter();
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default))
            .Value.Records.ShouldHaveSingleItem()
            .Values["title"]
            .ShouldBe("Whole");
        await adapter.StoredAsync(RecordKind.Item, default);
        Names("till/out").ShouldBe(["articles_20261125-060000.csv.part", "articles_20261125-070000.csv"]);

        File.WriteAllText(half, "PLU;Code;Article;Price;Stock\r\n1;A;Now whole;1,00;1\r\n");
        File.SetLastWriteTimeUtc(half, _clock.GetUtcNow().UtcDateTime);
        _clock.Advance(TimeSpan.FromSeconds(3));
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default))
            .Value.Records.ShouldHaveSingleItem()
            .Values["title"]
            .ShouldBe("Now whole");
    }

    [Fact]
    public async Task Without_a_file_the_answer_says_what_is_waited_for()
    {
        var adapter = Adapter();
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Fault!.Words.ShouldContain(
            "no complete file articles_….csv in “out” yet"
        );
        (await adapter.TestAsync(default)).Ok.ShouldBeFalse();
    }

    [Theory]
    [InlineData("Code;Article;Price;Stock\r\nA;x;1;1\r\n", "has no column “plu”")]
    public async Task A_file_with_a_fault_is_not_taken_in(string text, string message)
    {
        Write("articles_20261124-060000.csv", text);
        (await Adapter().ReadPageAsync(RecordKind.Item, null, null, default)).Fault!.Words.ShouldContain(message);
        Names("till/out").ShouldHaveSingleItem();
    }

    [Fact]
    public async Task A_row_without_a_key_and_rows_that_share_one_are_left_out_and_shown()
    {
        Write(
            "articles_20261124-060000.csv",
            "PLU;Code;Article;Price;Stock\r\n1;A;x;1;1\r\n2;B;y;1;1\r\n1;C;z;1;1\r\n;D;w;1;1\r\n2;B;y;1;1\r\n"
        );
        var page = (await Adapter().ReadPageAsync(RecordKind.Item, null, null, default)).Value;
        page.Records.ShouldHaveSingleItem().Key.ShouldBe("2", "the same twice is one");
        page.Unkept.Select(u => (u.Code, u.Key))
            .ShouldBe([(UnkeptRecord.KeyTwice, "1"), (UnkeptRecord.KeyTwice, "1"), (UnkeptRecord.NoKey, null)]);
        page.Unkept[0].Words.ShouldContain("line 4 has the PLU 1, which line 2 has already");
        Encoding.UTF8.GetString(page.Unkept[0].Raw.Span).ShouldContain("\"A\"");
        Encoding.UTF8.GetString(page.Unkept[0].Other.Span).ShouldContain("\"C\"");
        (await Adapter().TestAsync(default)).Message.ShouldContain("3 of 4 till articles");
    }

    [Theory]
    [InlineData("'../../x'")]
    [InlineData("yyyyMMdd'/'HHmmss")]
    [InlineData("yyyy/MM/dd")]
    [InlineData("HH:mm")]
    [InlineData("%")]
    public void A_form_of_a_time_that_leads_into_another_folder_is_refused(string form)
    {
        var described = Description().Replace("\"label\": \"till articles\",", $"\"label\": \"till articles\", \"time\": \"{form}\",");
        FileDocument.Read(described).Fault!.Words.ShouldContain("].time: “");
    }

    [Fact]
    public async Task Whatever_a_name_becomes_is_checked_where_files_are_made()
    {
        // As if a description had come past the check.
        var document = FileDocument.Read(Description()).Value;
        foreach (var form in new[] { "'../../x'", "'/tmp/x'", "'a'\n'b'", $"'{new string('x', 300)}'" })
        {
            var led = document with { Resources = [document.Resources[0] with { Time = form }] };
            using var adapter = led.Adapter("till", null, new OutboundPolicy(false, _folder.FullName), _clock).Value;
            var price = new RecordWrite("1", "k", new Dictionary<string, string?> { ["price"] = "2" });
            var answer = (await adapter.WriteAsync(RecordKind.Item, [price], default)).Single();
            (answer.Fate, answer.Why!.Code).ShouldBe((WriteFate.Refused, "files.badName"));
        }

        Directory.GetFiles(_folder.FullName, "*", SearchOption.AllDirectories).ShouldBeEmpty();
    }

    [Fact]
    public async Task Drops_have_names_of_their_own_and_none_is_written_over()
    {
        var price = new RecordWrite("1", "k", new Dictionary<string, string?> { ["price"] = "2" });
        // The clock stands still, and each adapter counts from the start, as after a restart.
        for (var n = 0; n < 5; n++)
            (await Adapter().WriteAsync(RecordKind.Item, [price], default)).ShouldAllBe(a => a.Fate == WriteFate.Accepted);
        Names("till/in").Length.ShouldBe(5);
    }

    [Fact]
    public async Task An_archive_keeps_every_file_that_was_ever_called_so()
    {
        var adapter = Adapter();
        for (var n = 1; n <= 3; n++)
        {
            Write("articles_20261124-060000.csv", $"PLU;Code;Article;Price;Stock\r\n1;A;Take {n};1,00;1\r\n");
            (await TitleAsync(adapter)).ShouldBe($"Take {n}");
            await adapter.StoredAsync(RecordKind.Item, default);
            _clock.Advance(TimeSpan.FromMinutes(1));
        }

        var archive = Path.Combine(_folder.FullName, "till/out/archive");
        Directory.GetFiles(archive).Select(File.ReadAllText).Count(t => t.Contains("Take")).ShouldBe(3);
        (await TitleAsync(Adapter())).ShouldBe("Take 3");
    }

    [Fact]
    public async Task A_server_whose_clock_is_ahead_or_behind_is_read_and_answers()
    {
        foreach (var hours in new[] { 5, -5 })
        {
            var adapter = Adapter();
            var file = Write($"articles_2026112{(hours > 0 ? 4 : 5)}-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Seen;1,00;1\r\n");
            File.SetLastWriteTimeUtc(file, _clock.GetUtcNow().UtcDateTime.AddHours(hours));
            await adapter.ReadPageAsync(RecordKind.Item, null, null, default);
            _clock.Advance(TimeSpan.FromSeconds(3));
            (await TitleAsync(adapter)).ShouldBe("Seen");
            File.Delete(file);
        }
    }

    [Fact]
    public async Task An_archive_of_very_many_files_is_looked_through_once()
    {
        var archive = Directory.CreateDirectory(Path.Combine(_folder.FullName, "till/out/archive")).FullName;
        Write("articles_20261125-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Seen;1,00;1\r\n");
        var adapter = Adapter();
        await adapter.ReadPageAsync(RecordKind.Item, null, null, default);
        await adapter.StoredAsync(RecordKind.Item, default);
        var stamp = await adapter.StampAsync(RecordKind.Item, default);
        // What somebody else puts there is no news: nobody looks.
        File.WriteAllText(Path.Combine(archive, "articles_20261201-060000.csv"), "PLU;Code;Article;Price;Stock\r\n");
        (await adapter.StampAsync(RecordKind.Item, default)).ShouldBe(stamp);
        stamp!.ShouldContain("20261125");
    }

    [Fact]
    public async Task An_encoding_is_found_out_wherever_its_first_letter_stands()
    {
        var text = new StringBuilder("PLU;Code;Article;Price;Stock\r\n");
        for (var i = 1; i <= 30_000; i++)
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"{i};S{i};Article {i};1,00;1\r\n");
        text.Append("30001;S30001;Blumenübertopf;1,00;1\r\n");
        var path = Write("articles_20261124-060000.csv", "");
        foreach (var encoding in new[] { Encoding.Latin1, new UTF8Encoding(false) })
        {
            File.WriteAllText(path, text.ToString(), encoding);
            (await Adapter().LookUpAsync(RecordKind.Item, ["30001"], default))
                .Value.ShouldHaveSingleItem()
                .Values["title"]
                .ShouldBe("Blumenübertopf");
        }
    }

    [Fact]
    public async Task A_value_that_is_not_what_its_field_is_becomes_a_problem_of_its_record()
    {
        Write("articles_20261124-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;x;dear;1\r\n2;B;y;1.50;1\r\n3;C;=1+1;2,00;1\r\n");
        var records = (await Adapter().ReadPageAsync(RecordKind.Item, null, null, default)).Value.Records;
        records[0].Problems.ShouldHaveSingleItem().Message.ShouldContain("Price is the text “dear”");
        // A point where the comma is the decimal mark could be either.
        records[1].Problems.ShouldHaveSingleItem().Field.ShouldBe("price");
        records[2].Values["title"].ShouldBe("=1+1");
    }

    [Fact]
    public async Task Large_files_are_read_page_by_page()
    {
        var text = new StringBuilder("PLU;Code;Article;Price;Stock\r\n");
        for (var i = 0; i < 2500; i++)
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"{i};S{i};Article {i};1,00;{i}\r\n");
        Write("articles_20261124-060000.csv", text.ToString());
        var adapter = Adapter();
        var (cursor, keys) = ((string?)null, new List<string>());
        do
        {
            var page = (await adapter.ReadPageAsync(RecordKind.Item, cursor, null, default)).Value;
            keys.AddRange(page.Records.Select(r => r.Key));
            cursor = page.Next;
            if (cursor is not null)
                Names("till/out").ShouldNotBeEmpty();
        } while (cursor is not null);
        keys.Distinct().Count().ShouldBe(2500);
    }

    [Fact]
    public async Task What_is_dropped_in_is_complete_and_shows_only_in_the_next_file()
    {
        Write("articles_20261124-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Glaze;1,00;1\r\n");
        var adapter = Adapter();
        var answers = await adapter.WriteAsync(
            RecordKind.Item,
            [new RecordWrite("1", "k1", new Dictionary<string, string?> { ["price"] = "12.4" })],
            default
        );
        answers.ShouldHaveSingleItem().Fate.ShouldBe(WriteFate.Accepted);
        File.ReadAllText(Directory.GetFiles(Path.Combine(_folder.FullName, "till/in"), "update_*.csv").Single())
            .ShouldBe("PLU;Price\r\n1;12,40\r\n");

        var looking = adapter.LookUpAsync(RecordKind.Item, ["1"], default);
        looking.IsCompleted.ShouldBeFalse();
        for (var i = 0; i < 250 && !looking.IsCompleted; i++)
            _clock.Advance(TimeSpan.FromMilliseconds(100));
        (await looking).Fault!.ShouldSatisfyAllConditions(
            f => f.Code.ShouldBe("files.noAnswer"),
            f => f.Words.ShouldContain("Nothing is lost")
        );

        var next = Write("articles_20261125-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Glaze;12,40;1\r\n");
        File.SetLastWriteTimeUtc(next, _clock.GetUtcNow().UtcDateTime);
        _clock.Advance(TimeSpan.FromSeconds(3));
        (await adapter.LookUpAsync(RecordKind.Item, ["1"], default)).Value.ShouldHaveSingleItem().Values["price"].ShouldBe("12.4");
    }

    [Theory]
    [InlineData("../elsewhere")]
    [InlineData("/etc")]
    [InlineData("")]
    public void No_folder_outside_is_reached(string address) =>
        new OutboundPolicy(false, _folder.FullName).Folder(address).Fault!.Code.ShouldBe("address.invalid");

    [Fact]
    public async Task A_link_out_of_the_folder_is_not_followed()
    {
        var outside = Directory.CreateTempSubdirectory("narbit-outside");
        try
        {
            // A file that is a link, and then a folder that is one.
            var secret = Path.Combine(outside.FullName, "articles_20261130-060000.csv");
            File.WriteAllText(secret, "PLU;Code;Article;Price;Stock\r\n1;A;Not for Narbit;1,00;1\r\n");
            File.SetLastWriteTimeUtc(secret, _clock.GetUtcNow().UtcDateTime.AddMinutes(-5));
            File.CreateSymbolicLink(Path.Combine(_folder.FullName, "till/out/articles_20261130-060000.csv"), secret);
            Write("articles_20261124-060000.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Its own;1,00;1\r\n");
            using var adapter = Adapter();
            (await adapter.ReadPageAsync(RecordKind.Item, null, null, default))
                .Value.Records.ShouldHaveSingleItem()
                .Values["title"]
                .ShouldBe("Its own");

            Directory.Delete(Path.Combine(_folder.FullName, "till/in"));
            Directory.CreateSymbolicLink(Path.Combine(_folder.FullName, "till/in"), outside.FullName);
            var write = new RecordWrite("1", "k", new Dictionary<string, string?> { ["price"] = "2" });
            var answer = (await adapter.WriteAsync(RecordKind.Item, [write], default)).Single();
            answer.Fate.ShouldBe(WriteFate.Refused);
            outside.GetFiles().ShouldHaveSingleItem();
        }
        finally
        {
            outside.Delete(recursive: true);
        }
    }

    [Fact]
    public async Task When_a_newer_file_comes_while_one_is_read_the_reading_begins_afresh()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        await bench.AddStoreAsync("quay-street-till");
        int before;
        await using (var db = bench.Database.CreateDbContext())
        {
            before = await db.Records.CountAsync(r => r.SystemId == "quay-street-till" && r.Kind == RecordKind.Item && r.GoneAt == null);
            // A reading that was cut off in a file which is no longer the newest.
            db.Reads.Add(
                new Data.Mirror.MirrorRead
                {
                    SystemId = "quay-street-till",
                    Kind = RecordKind.Item,
                    State = Data.Mirror.ReadState.Failed,
                    Cursor = "articles_20200101-000000.csv#500",
                    StartedAt = DateTimeOffset.UtcNow.AddMinutes(-1),
                    Pages = 1,
                    Records = 500,
                    Listed = 500,
                }
            );
            await db.SaveChangesAsync();
        }

        var read = await bench.Reader.ReadAsync("quay-street-till", RecordKind.Item, full: true, default);
        (read.Fault, read.ValueOrDefault?.Listed, read.ValueOrDefault?.Gone).ShouldBe((null, before, 0));
    }

    [Fact]
    public async Task A_file_that_is_always_called_the_same_is_read_where_it_lies_as_often_as_it_changes()
    {
        var adapter = Adapter(Description().Replace("articles_{time}.csv", "articles.csv", StringComparison.Ordinal));
        Write("articles.csv", "PLU;Code;Article;Price;Stock\r\n1;A;First;1,00;1\r\n");
        (await TitleAsync(adapter)).ShouldBe("First");
        Names("till/out").ShouldBe(["articles.csv"]);
        Write("articles.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Second;1,00;1\r\n");
        File.SetLastWriteTimeUtc(Path.Combine(_folder.FullName, "till/out/articles.csv"), DateTime.UtcNow.AddMinutes(1));
        (await TitleAsync(adapter)).ShouldBe("Second");
    }

    [Fact]
    public async Task A_table_may_say_how_it_is_laid_out()
    {
        var described = Description()
            .Replace(
                "\"label\": \"till articles\",",
                "\"label\": \"till articles\", \"header\": 2, \"delimiter\": \"|\", \"encoding\": \"utf-8\",",
                StringComparison.Ordinal
            );
        var adapter = Adapter(described);
        Write("articles_20261124-060000.csv", "List of the day; all of it\r\nPLU|Code|Article|Price|Stock\r\n1|A|Bowl; blue|1,00|1\r\n");
        (await TitleAsync(adapter)).ShouldBe("Bowl; blue");
        var wrong = Write("articles_20261125-060000.csv", "x\r\nPLU|Code|Article|Price|Stock\r\n1|A|B");
        await File.AppendAllBytesAsync(wrong, [0xFC, .. "hm|1,00|1\r\n"u8]);
        File.SetLastWriteTimeUtc(wrong, DateTime.UtcNow.AddMinutes(-1));
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Fault!.Code.ShouldBe("table.unreadable");
    }

    [Fact]
    public async Task A_file_that_somebody_brings_gets_the_systems_own_name_and_is_taken_once()
    {
        var adapter = Adapter();
        var brought = await BringAsync(adapter, "from the mail.csv", "PLU;Code;Article;Price;Stock\r\n1;A;Brought;1,00;1\r\n");
        brought.Value.ShouldBe($"articles_{_clock.GetUtcNow():yyyyMMdd-HHmmss}.csv");
        _clock.Advance(TimeSpan.FromMinutes(1));
        (await TitleAsync(adapter)).ShouldBe("Brought");
        (await BringAsync(adapter, brought.Value, "x")).Fault!.Code.ShouldBe("files.there");
        (await BringAsync(adapter, "list.xlsx", "x")).Fault!.Words.ShouldContain("come as .csv");
        (await BringAsync(adapter, "../../escape.csv", "x")).Value.ShouldStartWith("articles_");

        Directory.CreateSymbolicLink(Path.Combine(_folder.FullName, "till/in2"), Path.GetTempPath());
        Adapter(Description().Replace("\"in\": \"in\"", "\"in\": \"in2\"", StringComparison.Ordinal))
            .MakeFolders()!
            .Words.ShouldContain("is a link that leads out");
        Adapter(Description().Replace("\"out\": \"out\"", "\"out\": \"new/out\"", StringComparison.Ordinal)).MakeFolders().ShouldBeNull();
        Directory.Exists(Path.Combine(_folder.FullName, "till/new/out")).ShouldBeTrue();

        Task<Outcome<string>> BringAsync(FileAdapter to, string name, string text) =>
            to.BringAsync(RecordKind.Item, name, new MemoryStream(Encoding.UTF8.GetBytes(text)), default);
    }

    private static async Task<string> TitleAsync(FileAdapter adapter) =>
        (await adapter.ReadPageAsync(RecordKind.Item, null, null, default)).Value.Records.ShouldHaveSingleItem().Values["title"];

    [Fact]
    public void Without_a_folder_for_files_none_is_reached() =>
        new OutboundPolicy(false).Folder("till").Fault!.Words.ShouldContain("--files FOLDER");

    [Theory]
    [InlineData("\"out\": \"out\"", "\"out\": \"../x\"", "out: give a folder within")]
    [InlineData("sales_{time}.csv", "sales.csv", "resources[1].file: must say with {time}")]
    [InlineData("update_{time}.csv", "update.csv", "resources[0].write.file: must say with {time}")]
    [InlineData("\"key\": \"Receipt\"", "\"key\": \"Receipt\", \"header\": 51", "resources[1].header:")]
    [InlineData("\"key\": \"Receipt\"", "\"key\": \"Receipt\", \"encoding\": \"martian\"", "resources[1].encoding: there is none")]
    [InlineData("articles_{time}.csv", "../../x_{time}.csv", "resources[0].file: must be the name of a file, without a folder")]
    [InlineData("articles_{time}.csv", "out/x_{time}.csv", "resources[0].file: must be the name of a file, without a folder")]
    [InlineData("articles_{time}.csv", "..\\\\x_{time}.csv", "resources[0].file: must be the name of a file, without a folder")]
    [InlineData("\"mark\": \"QT\"", "\"mark\": \"Q\"", "mark: give two letters")]
    [InlineData("\"answerSeconds\": 20", "\"answerSeconds\": 0", "answerSeconds:")]
    [InlineData("\"address\": \"quay-street-till\"", "\"adress\": \"x\"", "adress")]
    public void A_description_is_checked(string from, string to, string message) =>
        SystemDocument.Read(Description().Replace(from, to, StringComparison.Ordinal)).Fault!.Words.ShouldContain(message);

    [Fact]
    public async Task Prices_and_stock_reach_the_till_and_are_confirmed_by_its_next_file()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var couple = await bench.AddStoreAsync("quay-street-till");
        var certain = (await bench.ProposalsAsync(couple.Id)).Where(p => p.Verdict == Core.Pairing.Verdict.Certain).ToList();
        certain.Count.ShouldBeGreaterThan(150);
        (
            await bench.Decisions.DecideAllAsync(
                couple.Id,
                Data.Pairs.DecisionAct.Accept,
                null,
                q => q.Where(p => p.Verdict == Core.Pairing.Verdict.Certain),
                certain.Count,
                "Tester",
                default
            )
        ).Fault.ShouldBeNull();
        (await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default)).Value.Committed.ShouldBe(certain.Count);

        var run = await bench.RunAsync("prices-quay-street-till", preview: false);
        run.Why?.Words.ShouldBeNull();
        run.State.ShouldBe(RunState.Done);
        var writes = await bench.WritesAsync(run.Id);
        writes.Count(w => w.State == WriteState.Confirmed).ShouldBeGreaterThan(5);
        writes.ShouldNotContain(w => w.State == WriteState.Failed || w.State == WriteState.Unknown);
        var sent = writes.First(w => w.State == WriteState.Confirmed);
        bench
            .Sandbox.Till.Find([sent.TargetKey], l => l[0].Price)
            .ShouldBe(decimal.Parse(sent.Fields[0].New!, System.Globalization.CultureInfo.InvariantCulture));

        await using var db = bench.Database.CreateDbContext();
        (
            await db.Records.Where(r => r.SystemId == "quay-street-till" && r.Key == sent.TargetKey).Select(r => r.Values).FirstAsync()
        ).ShouldContain(sent.Fields[0].New!);
    }

    [Fact]
    public async Task A_till_that_is_off_leaves_the_run_to_be_tried_again()
    {
        await using var bench = await Workbench.OpenAsync(items: 600, edit: null);
        var couple = await bench.AddStoreAsync("quay-street-till");
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Systems.Where(s => s.Id == "quay-street-till")
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(x => x.Document, x => x.Document.Replace("\"answerSeconds\":20", "\"answerSeconds\":1"))
                        .SetProperty(x => x.Revision, 2)
                );
        await bench.Decisions.DecideAsync(
            couple.Id,
            [
                .. (await bench.ProposalsAsync(couple.Id))
                    .Where(p => p.Verdict == Core.Pairing.Verdict.Certain)
                    .Select(p => new Pairing.DecisionToMake(Data.Pairs.DecisionAct.Accept, p.HubKey, p.OtherKey)),
            ],
            "Tester",
            default
        );
        await bench.Decisions.CommitAsync(couple.Id, null, "Tester", null, default);
        bench.Sandbox.TillFolders.On = false;
        var run = await bench.RunAsync("prices-quay-street-till", preview: false);
        run.State.ShouldBe(RunState.Failed);
        run.Why?.Words!.ShouldContain("has written no new file");
        bench.Sandbox.TillFolders.On = true;
        (await bench.Runs.TryAgainAsync(run.Id, default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        (await bench.WritesAsync(run.Id)).ShouldNotContain(w => w.State == WriteState.Unknown || w.State == WriteState.Failed);
    }

    private static string Description() => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "systems", "quay-street-till.json"));

    private FileAdapter Adapter(string? description = null)
    {
        var document = FileDocument
            .Read((description ?? Description()).Replace("\"settleSeconds\": 0.1", "\"settleSeconds\": 2", StringComparison.Ordinal))
            .Value;
        return (FileAdapter)document.Adapter("till", null, new OutboundPolicy(false, _folder.FullName), _clock).Value;
    }

    private string Write(string name, string text)
    {
        var path = Path.Combine(_folder.FullName, "till/out", name);
        File.WriteAllText(path, text, Encoding.Latin1);
        return path;
    }

    private string[] Names(string folder) =>
        [.. Directory.GetFiles(Path.Combine(_folder.FullName, folder)).Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];
}
