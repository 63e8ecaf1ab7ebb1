using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Tests;

/// <summary>Lists that never end, and what a person stops.</summary>
public sealed class EndlessTests
{
    [Theory]
    [InlineData("repeated", "names the page “7002” as the next a second time")]
    [InlineData("ignored", "sends the same page again")]
    [InlineData("empty", "3 pages in a row are empty")]
    public async Task A_list_without_an_end_is_told_and_nothing_is_taken_for_gone(string how, string words)
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var book = await OrderBook.StartAsync(orders: 6);
        var id = await book.AddToAsync(bench);
        (await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default)).Fault.ShouldBeNull();

        var turn = 0;
        book.Page = _ =>
            how switch
            {
                // The cursor comes back to where it was before.
                "repeated" => Reply(book.Orders.Skip(turn++ * 2 % 6).Take(2), "7002"),
                "ignored" => Reply(book.Orders.Take(2), $"page {turn++}"),
                _ => Reply([], $"page {turn++}"),
            };
        var read = await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default);
        read.Fault!.Code.ShouldBe("read.endless");
        read.Fault.Words.ShouldContain(words);
        await using var db = bench.Database.CreateDbContext();
        (await db.Records.CountAsync(r => r.SystemId == id && r.Kind == RecordKind.Order && r.GoneAt == null)).ShouldBe(6);

        // The next reading does not go on from a cursor that leads nowhere.
        book.Page = null;
        var whole = await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default);
        (whole.Fault, whole.ValueOrDefault?.Listed).ShouldBe((null, 6));
    }

    [Fact]
    public async Task Pages_that_are_empty_before_the_end_are_no_fault()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var book = await OrderBook.StartAsync(orders: 2);
        var id = await book.AddToAsync(bench);
        var turn = 0;
        book.Page = _ => ++turn < 3 ? Reply([], $"page {turn}") : Reply(book.Orders, null);
        (await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default)).Value.Listed.ShouldBe(2);
    }

    [Fact]
    public async Task A_reading_is_stopped_by_a_person_and_goes_on_from_there()
    {
        await using var bench = await Workbench.OpenAsync(items: 12);
        await using var book = await OrderBook.StartAsync(orders: 40);
        var id = await book.AddToAsync(bench, d => d["limits"]!["timeoutSeconds"] = 30);
        var asked = new TaskCompletionSource();
        var release = new TaskCompletionSource();
        book.Page = after =>
        {
            var from = after is null ? 0 : int.Parse(after, System.Globalization.CultureInfo.InvariantCulture);
            if (from >= 20 && !release.Task.IsCompleted)
            {
                asked.TrySetResult();
                release.Task.Wait();
            }

            return Reply(book.Orders.Skip(from).Take(2), from + 2 < 40 ? $"{from + 2}" : null);
        };
        var reading = bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default);
        await asked.Task;
        bench.Reader.Stop("nobody-else", "Tester").ShouldBe(0);
        bench.Reader.Stop(id, "Tester").ShouldBe(1);
        var stopped = await reading;
        release.SetResult();
        (stopped.Fault!.Code, stopped.Fault.Words).ShouldBe(
            ("read.stopped", "Tester stopped the reading; the next one goes on from there.")
        );
        await using (var db = bench.Database.CreateDbContext())
            (await db.Records.CountAsync(r => r.SystemId == id && r.GoneAt != null)).ShouldBe(0);

        var gone = await bench.Reader.ReadAsync(id, RecordKind.Order, full: true, default);
        (gone.Value.Listed, gone.Value.Gone).ShouldBe((40, 0));
        await using (var db = bench.Database.CreateDbContext())
            (await db.Reads.CountAsync(r => r.SystemId == id)).ShouldBe(1, "it is one reading, taken up again");
    }

    [Fact]
    public async Task A_run_is_stopped_by_a_person_between_two_batches_and_tried_again()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var preview = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.Runs.StopAsync(preview.Id, "Tester", default)).Fault!.Code.ShouldBe("run.notWorking");
        var sending = new TaskCompletionSource();
        bench.Live.Happened += e =>
        {
            if (e is { Topic: "run", Phase: "send" } && bench.Shop.Applied.Count > 0)
                sending.TrySetResult();
        };
        await bench.Runs.SendAsync(preview.Id, new Choice(true), "Tester", default);
        await sending.Task;
        var stop = await bench.Runs.StopAsync(preview.Id, "Tester", default);
        var run = await bench.EndedAsync(preview.Id);
        stop.Fault.ShouldBeNull();
        (run.State, run.Why!.Code).ShouldBe((RunState.Failed, "run.stopped"));
        var sent = bench.Shop.Applied.Count;
        sent.ShouldBeLessThan((await bench.WritesAsync(run.Id)).Count(w => w.State != WriteState.Held));

        (await bench.Runs.TryAgainAsync(run.Id, default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(run.Id)).State.ShouldBe(RunState.Done);
        await bench.ShouldBeCompleteAsync(run.Id);
        bench.Shop.Applied.Count.ShouldBeGreaterThan(sent);
    }

    private static JsonObject Reply(IEnumerable<JsonObject> orders, string? next) =>
        new() { ["orders"] = new JsonArray([.. orders.Select(o => o.DeepClone())]), ["next"] = next };
}
