using Microsoft.EntityFrameworkCore;
using Narbit.Data.Mismatches;
using Narbit.Data.Pairs;
using Narbit.Data.Runs;
using Narbit.Engine.Runs;
using static Narbit.Engine.Tests.Desks;

namespace Narbit.Engine.Tests;

/// <summary>An act is written before its parts; what was done of it can be taken back, and undo says what it did.</summary>
public sealed class WholeActTests
{
    [Fact]
    public async Task What_an_act_that_was_cut_off_had_done_is_taken_back_by_it()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var (one, other, likely) = await LikelyAsync(bench);
        // The process ends while the second pairing is put into force.
        await SqlAsync(
            bench,
            "CREATE TRIGGER Ends BEFORE INSERT ON Batches WHEN EXISTS (SELECT 1 FROM Batches WHERE Note LIKE '%mismatch desk%') "
                + "BEGIN SELECT RAISE(ABORT, 'ended'); END"
        );
        await Should.ThrowAsync<DbUpdateException>(() => DeskOf(bench).TakeAsync(likely.ConvertAll(m => m.Id), null, "Ines", default));
        await SqlAsync(bench, "DROP TRIGGER Ends");
        ((await bench.LinksAsync(one.Id)).Count + (await bench.LinksAsync(other.Id)).Count).ShouldBeGreaterThan(2);
        await using var db = bench.Database.CreateDbContext();
        var act = await db.MismatchActs.AsNoTracking().SingleAsync(a => a.Kind == MismatchActKind.Applied);
        (act.Words, act.By).ShouldBe(("not finished", "Ines"));
        (await DeskOf(bench).UndoAsync(act.Id, "Ines", default)).Fault.ShouldBeNull();
        (await bench.LinksAsync(one.Id)).ShouldBeEmpty();
        (await bench.LinksAsync(other.Id)).ShouldBeEmpty();
    }

    [Fact]
    public async Task Undo_goes_on_over_what_is_undone_and_says_what_remains()
    {
        await using var bench = await Workbench.OpenAsync(items: 600);
        var (one, other, likely) = await LikelyAsync(bench);
        var desk = DeskOf(bench);
        var taken = (await desk.TakeAsync(likely.ConvertAll(m => m.Id), null, "Ines", default)).Value;
        await using var db = bench.Database.CreateDbContext();
        var batches = await db.Batches.Where(b => b.Note!.StartsWith("from the mismatch desk")).OrderBy(b => b.Id).ToListAsync();
        batches.Count.ShouldBe(2);
        (await bench.Decisions.UndoAsync(batches[0].Id, "Noor", default)).Fault.ShouldBeNull();
        // A part that cannot be taken back stands in nobody's way.
        const string more = "json_insert(Undo, '$.parts[#]', json_object('number', 424242))";
        await SqlAsync(bench, $"UPDATE MismatchActs SET Undo = {more} WHERE Id = {taken.ActId}");
        var partly = (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Fault!;
        (partly.Code, partly.Words).ShouldBe(("mismatch.remains", "2 of 3 parts are as before; 1 remains: There is no batch 424242."));
        (await bench.LinksAsync(one.Id)).ShouldBeEmpty();
        (await bench.LinksAsync(other.Id)).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("pair 7 8/9", """{"way":"pair","parts":[{"couple":null,"number":7},{"couple":8,"number":9}]}""")]
    [InlineData("keepOff items-web-shop/a%2Fb%20c", """{"way":"keepOff","parts":[{"lane":"items-web-shop","keys":["a/b c"]}]}""")]
    [InlineData("code a/b/12", """{"way":"code","parts":[{"lane":"a/b","number":12}]}""")]
    [InlineData("compare 12 13", """{"way":"compare","parts":[{"run":12},{"run":13}]}""")]
    [InlineData("order orders/5", """{"way":"order","parts":[{"lane":"orders","decision":5}]}""")]
    public async Task An_act_of_an_earlier_version_has_its_parts(string kept, string today)
    {
        await using var bench = await Workbench.OpenAsync();
        var ways = WaysOf(bench);
        ActParts.Read(kept, (way, part) => ways.Single(w => w.Act == way).Renewed(part)).Write().ShouldBe(today);
        ActParts.Read(today, (_, _) => throw new InvalidOperationException()).Write().ShouldBe(today);
    }

    [Fact]
    public async Task To_undo_what_is_in_a_preview_sends_nothing_and_leaves_earlier_acts_alone()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        await using var db = bench.Database.CreateDbContext();
        var open = await db.Mismatches.AsNoTracking().Where(m => m.State == MismatchState.Open && m.Proposal != null).ToListAsync();
        var wrong = open.First(m => m.Cause.StartsWith("ready.", StringComparison.Ordinal) && m.Subject != null);
        var desk = DeskOf(bench);
        var earlier = (await desk.SettleAsync([open.First(m => m.Id != wrong.Id).Id], "so it is", "Ines", default)).Value;
        var taken = (await desk.TakeAsync([wrong.Id], null, "Ines", default)).Value;
        await bench.EndedAsync(taken.RunId!.Value);
        taken.Words.ShouldBe("1 correction is in a preview, to be sent");

        (await desk.UndoAsync(taken.ActId!.Value, "Ines", default)).Value.Count.ShouldBe(1);
        (await bench.EndedAsync(taken.RunId!.Value)).Why!.Code.ShouldBe("run.dismissed");
        (await OneAsync(bench, wrong.Id)).State.ShouldBe(MismatchState.Open);
        (await desk.UndoAsync(earlier.ActId!.Value, "Ines", default)).Value.Count.ShouldBe(1);

        // What was sent is not said to be undone.
        var again = (await desk.TakeAsync([wrong.Id], null, "Ines", default)).Value;
        await bench.EndedAsync(again.RunId!.Value);
        (await bench.Runs.SendAsync(again.RunId!.Value, new Choice(true), "Ines", default)).Fault.ShouldBeNull();
        (await bench.EndedAsync(again.RunId!.Value)).State.ShouldBe(RunState.Done);
        var sent = (await desk.UndoAsync(again.ActId!.Value, "Ines", default)).Fault!;
        sent.Words.ShouldContain($"run {again.RunId} has sent it already; roll that run back on its page");
        (await OneAsync(bench, wrong.Id)).State.ShouldBe(MismatchState.Settled);
    }

    private static async Task<(Couple One, Couple Other, List<Mismatch> Likely)> LikelyAsync(Workbench bench)
    {
        var one = await bench.AddStoreAsync("trade-portal");
        var other = await bench.AddStoreAsync("clay-lane");
        await BookOf(bench).LookAtAllAsync(default);
        var likely = await OpenAsync(bench, "pair.likely");
        foreach (var couple in new[] { one, other })
            likely.Count(m => m.CoupleId == couple.Id).ShouldBeGreaterThan(2);
        return (one, other, [.. likely.Where(m => m.CoupleId == one.Id || m.CoupleId == other.Id).OrderBy(m => m.CoupleId)]);
    }

    private static async Task SqlAsync(Workbench bench, string statement)
    {
        await using var db = bench.Database.CreateDbContext();
        await db.Database.ExecuteSqlRawAsync(statement);
    }
}
