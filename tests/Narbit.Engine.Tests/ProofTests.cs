using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Time.Testing;
using Narbit.Core.Comparing;
using Narbit.Data.Proofs;
using Narbit.Data.Runs;
using Narbit.Engine.Proofs;
using static Narbit.Engine.Tests.Desks;

namespace Narbit.Engine.Tests;

/// <summary>A full compare says how far lanes are in step, what was changed there, and what was believed wrongly.</summary>
public sealed class ProofTests
{
    [Fact]
    public async Task What_is_in_step_changed_there_or_to_be_sent_is_counted_and_each_count_is_that_of_its_lines()
    {
        await using var bench = await Workbench.OpenAsync();
        var sent = await bench.RunAsync(Workbench.Prices, preview: false);
        await bench.RunAsync(Workbench.Stock, preview: false);
        var before = await ProveAsync(bench);
        before.Records.ShouldBe(sent.Paired);
        before.RecordsInStep.ShouldBe(before.Records - before.Held - before.NotComputed);
        (before.ChangedThere, before.ToSend, before.Missing, before.Mistaken).ShouldBe((0, 0, 0, 0));
        before.Held.ShouldBeGreaterThan(0, "prices of zero and below are not sent");

        var written = (await bench.WritesAsync(sent.Id)).Where(w => w.State == WriteState.Confirmed).ToList();
        bench.Shop.SetPrice(long.Parse(written[0].TargetKey, System.Globalization.CultureInfo.InvariantCulture), 12_34);
        bench.Sandbox.Office.Edit(written[1].SourceKey, "Studio", 9.5m, null, null);
        var after = await ProveAsync(bench);
        (after.ChangedThere, after.ToSend, after.Mistaken).ShouldBe((1, 1, 0), "the shop tells of what has changed there");
        after.RecordsInStep.ShouldBe(before.RecordsInStep - 2);
        var lines = await LinesAsync(bench, after.Id);
        foreach (var finding in Enum.GetValues<StepFinding>())
            lines.Count(l => l.Finding == finding).ShouldBe(Counted(after, finding), finding.ToString());
        var changed = lines.Single(l => l.Finding == StepFinding.ChangedThere);
        (changed.TargetKey, changed.There).ShouldBe((written[0].TargetKey, "12.34"));
        changed.Should.ShouldBe(changed.Before);
        lines.Single(l => l.Finding == StepFinding.ToSend).SourceKey.ShouldBe(written[1].SourceKey);
        await using (var db = bench.Database.CreateDbContext())
            (await db.Runs.CountAsync()).ShouldBe(2, "a compare is no run and sends nothing");

        // The desk has it once, and its way out is a preview of that record alone.
        await BookOf(bench).LookAtAllAsync(default);
        var drift = (await OpenAsync(bench, "drift.changedThere")).Single();
        drift.Words.ShouldContain("is “12.34” there, and was left as");
        var taken = (await DeskOf(bench).TakeAsync([drift.Id], null, "Ines", default)).Value;
        var run = await bench.EndedAsync(taken.RunId!.Value);
        (await bench.WritesAsync(run.Id)).Single().TargetKey.ShouldBe(written[0].TargetKey);
        await bench.RunAsync(Workbench.Prices, preview: true);
        await BookOf(bench).LookAtAllAsync(default);
        (await OpenAsync(bench, "drift.changedThere")).ShouldBeEmpty("the lane has compared since");
    }

    [Fact]
    public async Task What_no_list_of_changes_told_of_was_believed_wrongly()
    {
        await using var bench = await Workbench.OpenAsync();
        var sent = await bench.RunAsync(Workbench.Prices, preview: false);
        var write = (await bench.WritesAsync(sent.Id)).First(w => w.State == WriteState.Confirmed);
        await using (var db = bench.Database.CreateDbContext())
            await db.Database.ExecuteSqlAsync(
                $"""
                UPDATE Records SET "Values" = json_set("Values", '$.price', '1.11'), Hash = x'00'
                WHERE SystemId = 'web-shop' AND Key = {write.TargetKey}
                """
            );
        // Long ago enough that a list of changes no longer tells of it.
        await using (var db = bench.Database.CreateDbContext())
            await db.Reads.ExecuteUpdateAsync(s => s.SetProperty(r => r.AsOf, DateTimeOffset.UtcNow.AddMinutes(10)));
        var proof = await ProveAsync(bench);
        proof.Mistaken.ShouldBe(1);
        var line = (await LinesAsync(bench, proof.Id)).Single(l => l.Finding == StepFinding.Mistaken);
        (line.TargetKey, line.Before, line.There).ShouldBe((write.TargetKey, "1.11", write.Fields[0].New));
        (await ProveAsync(bench)).Mistaken.ShouldBe(0, "it is known by now");
    }

    [Fact]
    public async Task A_system_that_does_not_answer_leaves_the_others_compared()
    {
        await using var bench = await Workbench.OpenAsync();
        await bench.RunAsync(Workbench.Prices, preview: false);
        await using (var db = bench.Database.CreateDbContext())
            await db
                .Systems.Where(s => s.Id == "web-shop")
                .ExecuteUpdateAsync(s => s.SetProperty(o => o.PausedAt, DateTimeOffset.UtcNow).SetProperty(o => o.PausedBy, "Noor"));
        var proof = await ProveAsync(bench);
        proof.Why!.Code.ShouldBe("system.paused");
        proof.Records.ShouldBe(0);
    }

    [Fact]
    public async Task The_night_compares_once_a_day_at_its_time_and_not_at_noon()
    {
        await using var bench = await Workbench.OpenAsync();
        var clock = new FakeTimeProvider(new DateTimeOffset(2026, 11, 29, 12, 0, 0, TimeSpan.Zero));
        var desk = ProofsOf(bench, clock);
        (await desk.SetTimeAsync("3 o’clock", default))!.Code.ShouldBe("proof.time");
        (await desk.SetTimeAsync("03:10", default)).ShouldBeNull();
        await desk.WorkAsync(default);
        (await RoundsAsync(bench)).ShouldBeEmpty("at noon the night is over");
        clock.SetUtcNow(new DateTimeOffset(2026, 11, 30, 4, 0, 0, TimeSpan.Zero));
        await desk.WorkAsync(default);
        await desk.WorkAsync(default);
        var round = (await RoundsAsync(bench)).Single();
        (round.Day, round.By).ShouldBe(("2026-11-30", null));
        round.EndedAt.ShouldNotBeNull();
    }

    [Fact]
    public async Task One_round_at_a_time_and_one_that_was_cut_off_goes_on()
    {
        await using var bench = await Workbench.OpenAsync();
        var desk = ProofsOf(bench, TimeProvider.System);
        (await desk.BeginAsync("Ines", default)).Fault.ShouldBeNull();
        (await desk.BeginAsync("Noor", default)).Fault!.Code.ShouldBe("proof.atWork");
        await using (var db = bench.Database.CreateDbContext())
        {
            var round = await db.ProofRounds.SingleAsync();
            db.Proofs.Add(
                new LaneProof
                {
                    RoundId = round.Id,
                    LaneId = Workbench.Stock,
                    Day = round.Day,
                    Records = 7,
                }
            );
            await db.SaveChangesAsync();
        }

        await ProofsOf(bench, TimeProvider.System).WorkAsync(default);
        await using var after = bench.Database.CreateDbContext();
        (await after.Proofs.Where(p => p.LaneId == Workbench.Stock).Select(p => p.Records).ToListAsync()).ShouldBe([7]);
        (await after.Proofs.CountAsync(p => p.LaneId == Workbench.Prices)).ShouldBe(1);
    }

    private static int Counted(LaneProof proof, StepFinding finding) =>
        finding switch
        {
            StepFinding.ChangedThere => proof.ChangedThere,
            StepFinding.ToSend => proof.ToSend,
            StepFinding.Missing => proof.Missing,
            StepFinding.Held => proof.Held,
            StepFinding.NotComputed => proof.NotComputed,
            _ => proof.Mistaken,
        };

    private static ProofDesk ProofsOf(Workbench bench, TimeProvider clock) =>
        new(bench.Database, bench.Reader, bench.Desk, bench.Live, clock, NullLogger<ProofDesk>.Instance);

    /// <summary>Compares everything; what was found of the lane of prices.</summary>
    private static async Task<LaneProof> ProveAsync(Workbench bench)
    {
        var desk = ProofsOf(bench, TimeProvider.System);
        (await desk.BeginAsync("Ines", default)).Fault.ShouldBeNull();
        await desk.WorkAsync(default);
        await using var db = bench.Database.CreateDbContext();
        (await db.ProofRounds.AllAsync(r => r.EndedAt != null)).ShouldBeTrue();
        return await db.Proofs.AsNoTracking().Where(p => p.LaneId == Workbench.Prices).OrderByDescending(p => p.Id).FirstAsync();
    }

    private static async Task<List<ProofLine>> LinesAsync(Workbench bench, long proof)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.ProofLines.AsNoTracking().Where(l => l.ProofId == proof).ToListAsync();
    }

    private static async Task<List<ProofRound>> RoundsAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.ProofRounds.AsNoTracking().ToListAsync();
    }
}
