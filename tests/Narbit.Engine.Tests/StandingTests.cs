using Microsoft.EntityFrameworkCore;
using Narbit.Core.Guarding;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Prices;
using Narbit.Engine.Runs;
using Narbit.Sandbox.Faults;

namespace Narbit.Engine.Tests;

/// <summary>What is open in a lane, whatever a person has done with it, and what a run went through.</summary>
public sealed class StandingTests
{
    [Fact]
    public async Task What_was_not_chosen_stays_open_and_goes_when_it_is_named()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        var before = await StandingAsync(bench);
        before.Planned.ShouldBeGreaterThan(9);
        AddsUp(before);
        var planned = (await bench.WritesAsync(run.Id)).Where(w => w.State == WriteState.Planned).Select(w => w.Id).ToList();

        (await bench.Runs.SendAsync(run.Id, new Choice(All: false, Only: [.. planned.Take(3)]), "Tester", default)).Value.ShouldBe(3);
        await bench.EndedAsync(run.Id);
        var part = await StandingAsync(bench);
        (part.NotChosen, part.Planned, part.InStep).ShouldBe((before.Planned - 3, 0, before.InStep + 3));
        AddsUp(part);

        (await bench.Runs.SendAsync(run.Id, new Choice(All: false, Only: [.. planned.Skip(3).Take(2)]), "Tester", default)).Value.ShouldBe(
            2
        );
        await bench.EndedAsync(run.Id);
        var more = await StandingAsync(bench);
        more.NotChosen.ShouldBe(before.Planned - 5);
        AddsUp(more);

        // What is taken back is open again.
        var back = await bench.EndedAsync((await bench.Runs.RollBackAsync(run.Id, [planned[0]], "Tester", default)).Value);
        await bench.Runs.SendAsync(back.Id, new Choice(All: true), "Tester", default);
        await bench.EndedAsync(back.Id);
        var taken = await StandingAsync(bench);
        (taken.TakenBack, taken.InStep).ShouldBe((1, more.InStep - 1));
        AddsUp(taken);
    }

    [Fact]
    public async Task A_change_set_that_was_computed_by_pairs_that_are_no_more_is_given_up_and_nothing_of_it_is_sent()
    {
        await using var bench = await Workbench.OpenAsync();
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Done);
        await using var db = bench.Database.CreateDbContext();
        await db.Writes.Where(w => w.RunId == run.Id).ExecuteUpdateAsync(s => s.SetProperty(w => w.State, WriteState.Held));
        var preview = await bench.RunAsync(Workbench.Stock, preview: true);
        preview.State.ShouldBe(RunState.Ready);
        var held = (await bench.WritesAsync(run.Id)).Select(w => w.Id).Take(4).ToList();

        var batch = await db.Batches.AsNoTracking().OrderBy(b => b.Id).FirstAsync();
        (await bench.Decisions.UndoAsync(batch.Id, "Ines", default)).Value.Faults.ShouldBeEmpty();
        (await StandingAsync(bench)).IsStale.ShouldBeTrue();
        var fault = (await bench.Runs.SendAsync(preview.Id, new Choice(All: true), "Tester", default)).Fault!;
        (fault.Code, fault.Words).ShouldBe(
            ("run.pairsApart", "Ines has taken pairs apart that this change set was computed by. Preview anew.")
        );
        var applied = bench.Shop.Applied.Count;
        (await bench.Runs.SendAsync(run.Id, new Choice(All: false, Only: held), "Tester", default)).Fault!.Code.ShouldBe("run.stale");
        bench.Shop.Applied.Count.ShouldBe(applied);
        (await bench.RunAsync(Workbench.Prices, preview: true)).Paired.ShouldBe(0);
        (await StandingAsync(bench)).IsStale.ShouldBeFalse();
    }

    [Fact]
    public async Task What_was_computed_by_another_version_or_another_scope_is_not_sent_as_it_is()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        var run = await bench.RunAsync(Workbench.Prices, preview: true);
        (await bench.Runs.StaleAsync(run.Id, default)).ShouldBeNull();
        await bench.SetRuleAsync(Workbench.Prices, new PriceDocument(Workbench.Markup));
        (await bench.Runs.SendAsync(run.Id, new Choice(All: true), "Tester", default)).Fault!.ShouldSatisfyAllConditions(
            f => f.Code.ShouldBe("run.stale"),
            f => f.Words.ShouldMatch(@"^This was computed by version \d+; Tester has saved version \d+ since\. Preview again")
        );
        (await bench.Runs.StaleAsync(run.Id, default)).ShouldNotBeNull();

        var anew = await bench.RunAsync(Workbench.Prices, preview: true);
        await using (var db = bench.Database.CreateDbContext())
            await db.Lanes.Where(l => l.Id == Workbench.Prices).ExecuteUpdateAsync(s => s.SetProperty(l => l.SkuStartsWith, "GLZ"));
        (await bench.Runs.SendAsync(anew.Id, new Choice(All: true), "Tester", default)).Fault!.Words.ShouldStartWith(
            "Which records the lane takes was changed since"
        );
        bench.Shop.Applied.ShouldBeEmpty();
    }

    [Fact]
    public async Task A_run_says_what_its_requests_went_through_and_a_line_what_became_of_its_attempts()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: true);
        await bench.SetRuleAsync(
            Workbench.Prices,
            new PriceDocument(Workbench.Markup),
            new GuardLimits { ChangedShare = null, PriceMove = null }
        );
        bench.ShopDial.Shares = new FaultShares { Error = 0.2, LostAfter = 0.2 };
        var run = await bench.RunAsync(Workbench.Prices, preview: false);
        run.State.ShouldBe(RunState.Done, run.Why?.Words);
        await bench.ShouldBeConfirmedAsync(run.Id, w => w.State != WriteState.Held);
        (run.Requests, run.Repeats, run.Lost).ShouldSatisfyAllConditions(
            t => t.Requests.ShouldBeGreaterThan(20),
            t => t.Repeats.ShouldBeInRange(1, t.Requests),
            t => t.Lost.ShouldBeInRange(1, t.Requests)
        );
        run.WorkedMs.ShouldBeGreaterThan(run.RepeatWaitedMs);
        await using var db = bench.Database.CreateDbContext();
        var troubles = await db.Troubles.AsNoTracking().Where(t => t.RunId == run.Id).ToListAsync();
        troubles.Select(t => t.System).Distinct().ShouldBe(["Lanternmoor Web Shop"]);
        troubles.Sum(t => t.Lost).ShouldBe(run.Lost);
        troubles.Sum(t => t.Attempts - 1).ShouldBe(run.Repeats);
        troubles.Select(t => t.Why.Code).ShouldContain("serverError");
        // The shop makes nothing of it twice, so a batch without an answer is simply sent again; its lines say so.
        var tried = await db.Tries.AsNoTracking().Where(t => db.Writes.Any(w => w.RunId == run.Id && w.Id == t.WriteId)).ToListAsync();
        tried.Select(t => t.Why.Code).ShouldContain("try.repeated");
    }

    private static async Task<LaneStanding> StandingAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        var lanes = await db.Lanes.AsNoTracking().Where(l => l.Id == Workbench.Prices).ToListAsync();
        return (await LaneStandings.OfAsync(db, lanes, default))[Workbench.Prices];
    }

    private static void AddsUp(LaneStanding standing) => (standing.InStep + standing.Open).ShouldBe(standing.Compared);
}
