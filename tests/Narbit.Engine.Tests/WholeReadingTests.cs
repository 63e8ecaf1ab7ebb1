using System.Globalization;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Time.Testing;
using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Tests;

/// <summary>A reading believes only what it stored, takes for gone only what is, and one odd record stops nothing.</summary>
public sealed class WholeReadingTests
{
    [Fact]
    public async Task A_reading_that_is_stopped_anywhere_forgets_no_record()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(400);
        await list.AddToAsync(bench);
        (await ReadAsync(bench)).Records.ShouldBe(400);
        // It is stopped at another place each time, also while pages are being stored.
        foreach (var page in new[] { 3, 17, 29, 40 })
        {
            list.BeforePage = asked =>
            {
                if (asked == page)
                    bench.Reader.Stop(LooseList.Id, "Tester");
            };
            await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full: true, default);
        }

        list.BeforePage = null;
        var whole = await ReadAsync(bench);
        (whole.State, whole.Gone, await ThereAsync(bench)).ShouldBe((ReadState.Done, 0, 400));
    }

    [Fact]
    public async Task What_could_not_be_stored_was_not_read()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(400);
        await list.AddToAsync(bench);
        await ReadAsync(bench);
        for (var n = 0; n < 400; n++)
            list.Records[n] = ($"K{n + 1}", LooseList.Thing($"K{n + 1}", new string('x', 3000)));
        using (bench.Database.Limit(extraPages: 40))
            (await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full: true, default)).Fault!.Code.ShouldBe("disk.full");
        await using (var db = bench.Database.CreateDbContext())
        {
            var stopped = await db.Reads.OrderByDescending(r => r.Id).FirstAsync();
            var stored = await db.Records.CountAsync(r => r.SystemId == LooseList.Id && r.Values.Length > 2000);
            stopped.Records.ShouldBe(stored, "what is said to be read is what is stored");
        }

        (await ReadAsync(bench)).Gone.ShouldBe(0);
        await using var after = bench.Database.CreateDbContext();
        (await after.Records.CountAsync(r => r.SystemId == LooseList.Id && r.GoneAt == null && r.Values.Length > 2000)).ShouldBe(400);
    }

    [Theory]
    [InlineData(true, true)]
    [InlineData(true, false)]
    [InlineData(false, true)]
    [InlineData(false, false)]
    public async Task A_record_deleted_between_two_pages_makes_no_other_gone(bool totals, bool looksUp)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(40);
        list.HasTotals = totals;
        await list.AddToAsync(
            bench,
            things =>
            {
                if (!looksUp)
                    things.Remove("lookup");
                if (!totals)
                    things["list"]!.AsObject().Remove("totalPath");
            }
        );
        await ReadAsync(bench);
        // What stood first on the third page moves to the second, which was read already.
        list.BeforePage = page =>
        {
            if (page == 3 && list.Records.Count == 40)
                list.Records.RemoveAt(4);
        };
        (await ReadAsync(bench)).State.ShouldBe(ReadState.Done);
        await using var db = bench.Database.CreateDbContext();
        var gone = await db.Records.Where(r => r.SystemId == LooseList.Id && r.GoneAt != null).Select(r => r.Key).ToListAsync();
        // Without totals nobody can know of the deleted one before the next reading; the living one is there in any case.
        gone.ShouldBe(totals || !looksUp ? ["K5"] : []);
        list.BeforePage = null;
        await ReadAsync(bench);
        (await ThereAsync(bench)).ShouldBe(39);
    }

    [Fact]
    public async Task A_list_that_sends_less_than_there_is_ends_nothing_that_is_found_when_asked_for()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(30);
        list.HasTotals = false;
        await list.AddToAsync(bench, things => things["list"]!["size"] = 5);
        await ReadAsync(bench);
        // The list breaks off, as if it ended there; its records can still be asked for.
        await PagedAsync("page", "none", 2);
        (await ReadAsync(bench)).Gone.ShouldBe(0);
        (await ThereAsync(bench)).ShouldBe(30);
        list.LookedUp.ShouldBe(25);

        // Of very many a few are asked for, and the reading is worth nothing.
        await PagedAsync("none", "page", 3);
        for (var n = 31; n <= 300; n++)
            list.Add(n);
        await ReadAsync(bench);
        await PagedAsync("page", "none", 4);
        (await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full: true, default)).Fault!.Code.ShouldBe("read.hollow");
        (await ThereAsync(bench)).ShouldBe(300);

        async Task PagedAsync(string before, string now, int revision)
        {
            await using var db = bench.Database.CreateDbContext();
            await db
                .Systems.Where(s => s.Id == LooseList.Id)
                .ExecuteUpdateAsync(s =>
                    s.SetProperty(x => x.Document, x => x.Document.Replace($"\"paging\":\"{before}\"", $"\"paging\":\"{now}\""))
                        .SetProperty(x => x.Revision, revision)
                );
        }
    }

    [Fact]
    public async Task Two_records_under_one_key_are_a_fault_that_shows_both_and_neither_is_believed()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(30);
        await list.AddToAsync(bench);
        await ReadAsync(bench);
        // On one page, and on two.
        list.Records.Add(("K29", LooseList.Thing("K29", "Another thing")));
        list.Records.Add(("K3", LooseList.Thing("K3", "A third thing")));
        var read = await ReadAsync(bench);
        (read.State, read.Unkept).ShouldBe((ReadState.Done, 4));
        read.Message!.ShouldStartWith("4 of 32 things could not be kept: two records of things have the");
        var shown = ShownUnkept.Read(read.UnkeptFirst);
        shown.Select(u => u.Key).Distinct().ShouldBe(["K29", "K3"], ignoreOrder: true);
        shown.ShouldAllBe(u => u.Other != null && u.Other != u.Raw);
        await using (var db = bench.Database.CreateDbContext())
        {
            var troubled = await db.Records.Where(r => r.SystemId == LooseList.Id && r.Problems != null).ToListAsync();
            troubled.Select(r => r.Key).ShouldBe(["K3", "K29"], ignoreOrder: true);
            troubled.ShouldAllBe(r => r.GoneAt == null && r.Problems!.Contains("(key)"));
        }

        // Once it is put right there, the records are as they are again.
        list.Records.RemoveRange(30, 2);
        (await ReadAsync(bench)).Unkept.ShouldBe(0);
        await using var after = bench.Database.CreateDbContext();
        (await after.Records.CountAsync(r => r.SystemId == LooseList.Id && r.Problems == null && r.GoneAt == null)).ShouldBe(30);
    }

    [Fact]
    public async Task A_key_that_most_records_share_is_no_key_and_the_reading_says_so()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync();
        for (var n = 1; n <= 60; n++)
            list.Records.Add(($"{n % 30}", LooseList.Thing($"{n % 30}", $"Shelf {n}")));
        await list.AddToAsync(bench);
        var read = await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full: true, default);
        read.Fault!.Code.ShouldBe("record.keyTwice");
        read.Fault.Words.ShouldContain("60 of 60 things could not be kept");
        var tested = await (await bench.AdapterAsync(LooseList.Id)).TestAsync(default);
        tested.Ok.ShouldBeTrue("no key is there twice on the first page");
        for (var n = 0; n < 60; n += 2)
            list.Records[n + 1] = (
                list.Records[n].Key,
                list.Records[n + 1].Json.Replace($"\"{(n + 2) % 30}\"", $"\"{list.Records[n].Key}\"")
            );
        tested = await (await bench.AdapterAsync(LooseList.Id)).TestAsync(default);
        (tested.Ok, tested.Message.Contains("10 of 10 things cannot be kept")).ShouldBe((false, true), tested.Message);
    }

    [Fact]
    public async Task What_is_no_valid_text_is_its_fields_fault_and_a_record_without_a_key_is_left_out()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(20);
        list.Records[3] = ("K4", """{"key":"K4","name":"half \ud83d a face"}""");
        list.Records[8] = ("K9", """{"key":"K9","name":"Kühltasche"}""");
        list.Records[12] = ("", """{"name":"nobody"}""");
        list.Records[15] = ("", """{"key":"\udc00","name":"no text"}""");
        list.Encoding = Encoding.Latin1;
        await list.AddToAsync(bench);
        var read = await ReadAsync(bench);
        (read.State, read.Records, read.Troubled, read.Unkept).ShouldBe((ReadState.Done, 18, 2, 2));
        await using (var db = bench.Database.CreateDbContext())
        {
            var troubled = await db.Records.Where(r => r.SystemId == LooseList.Id && r.Problems != null).ToListAsync();
            troubled.Select(r => r.Key).ShouldBe(["K4", "K9"]);
            troubled.ShouldAllBe(r => r.Problems!.Contains("no valid text"));
        }

        // Where the system says in which encoding it writes, there is nothing wrong with it.
        list.ContentType = "application/json; charset=iso-8859-1";
        (await ReadAsync(bench)).Troubled.ShouldBe(1);
        await using var after = bench.Database.CreateDbContext();
        (await after.Records.SingleAsync(r => r.SystemId == LooseList.Id && r.Key == "K9")).Caption.ShouldBe("Kühltasche");
    }

    [Theory]
    [InlineData(7)]
    [InlineData(-7)]
    public async Task Changes_are_asked_for_by_the_systems_own_clock(int minutesOff)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(5);
        var off = TimeSpan.FromMinutes(minutesOff);
        list.Clock = () => DateTimeOffset.UtcNow + off;
        await list.AddToAsync(bench);
        await ReadAsync(bench);
        await ReadAsync(bench, full: false);
        var since = DateTimeOffset.Parse(list.AskedSince[^1]!, CultureInfo.InvariantCulture);
        (DateTimeOffset.UtcNow + off - since).ShouldBeInRange(TimeSpan.FromMinutes(2.9), TimeSpan.FromMinutes(4));
    }

    [Fact]
    public async Task Changes_are_asked_for_by_the_systems_own_stamps_and_without_any_clock_a_day_back()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync();
        list.Records.Add(("A", LooseList.Thing("A", "Alpha", ""","changed":"2026-11-03T08:00:00Z" """)));
        list.Records.Add(("B", LooseList.Thing("B", "Beta", ""","changed":"2026-11-05T09:30:00Z" """)));
        await list.AddToAsync(bench, things => things["list"]!["changedAt"] = "changed");
        await ReadAsync(bench);
        await ReadAsync(bench, full: false);
        list.AskedSince[^1].ShouldBe("2026-11-05T09:27:00Z");
        // What says nothing of when it changed takes nothing away from what is known.
        list.Changes = _ => [];
        await ReadAsync(bench, full: false);
        await ReadAsync(bench, full: false);
        list.AskedSince[^1].ShouldBe("2026-11-05T09:27:00Z");
    }

    [Fact]
    public async Task What_is_read_by_changes_is_read_whole_once_a_day_unless_that_is_switched_off()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(5);
        await list.AddToAsync(bench);
        var clock = new FakeTimeProvider(DateTimeOffset.UtcNow);
        var reader = new MirrorReader(bench.Database, bench.Adapters, new LiveFeed(), clock);
        async Task<bool> WholeAsync() => (await reader.ReadAsync(LooseList.Id, RecordKind.Item, full: false, default)).Value.Since is null;
        (await WholeAsync()).ShouldBeTrue();
        clock.Advance(TimeSpan.FromHours(20));
        (await WholeAsync()).ShouldBeFalse();
        clock.Advance(TimeSpan.FromHours(5));
        (await WholeAsync()).ShouldBeTrue();
        await using (var db = bench.Database.CreateDbContext())
            await db.Systems.Where(s => s.Id == LooseList.Id).ExecuteUpdateAsync(s => s.SetProperty(x => x.ReadsWholeDaily, false));
        clock.Advance(TimeSpan.FromDays(3));
        (await WholeAsync()).ShouldBeFalse();
    }

    [Fact]
    public async Task Any_exception_ends_a_reading_as_failed_with_its_words()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var list = await LooseList.StartAsync(15);
        await list.AddToAsync(bench);
        await using (var db = bench.Database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync(
                "CREATE TRIGGER Odd BEFORE INSERT ON Records BEGIN SELECT RAISE(ABORT, 'something odd'); END"
            );
        var read = await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full: true, default);
        read.Fault!.Words.ShouldContain("something odd");
        await using var after = bench.Database.CreateDbContext();
        (await after.Reads.SingleAsync(r => r.SystemId == LooseList.Id)).State.ShouldBe(ReadState.Failed);
    }

    private static async Task<MirrorRead> ReadAsync(Workbench bench, bool full = true)
    {
        var read = await bench.Reader.ReadAsync(LooseList.Id, RecordKind.Item, full, default);
        read.Fault.ShouldBeNull(read.Fault?.Words);
        return read.Value;
    }

    private static async Task<int> ThereAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.Records.CountAsync(r => r.SystemId == LooseList.Id && r.GoneAt == null);
    }
}
