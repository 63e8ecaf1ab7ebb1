using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Tests;

/// <summary>One record and cause is one mismatch, whatever becomes of it; real SQLite.</summary>
public sealed class MismatchStoreTests : IAsyncLifetime
{
    private static readonly DateTimeOffset Noon = new(2026, 11, 24, 12, 0, 0, TimeSpan.Zero);

    private readonly DirectoryInfo _folder = Directory.CreateTempSubdirectory("narbit-mismatches");

    private Database _database = null!;
    private MismatchStore _store = null!;

    public async ValueTask InitializeAsync()
    {
        _database = new Database(Path.Combine(_folder.FullName, "narbit.db"));
        await File.WriteAllBytesAsync(_database.Path, await Workbench.EmptyDatabaseAsync());
        _store = new MismatchStore(_database);
    }

    public ValueTask DisposeAsync()
    {
        Database.ForgetConnections();
        _folder.Delete(recursive: true);
        return ValueTask.CompletedTask;
    }

    [Fact]
    public async Task What_is_seen_again_and_again_is_one_and_what_is_no_longer_seen_is_gone()
    {
        (await LookAsync(0, "A", "B")).ShouldBe(new Looked(2, 0, 0));
        for (var minute = 1; minute <= 500; minute++)
            await LookAsync(minute, "A");
        var (a, b) = (await OneAsync("A"), await OneAsync("B"));
        (a.State, a.Seen, a.CameBack).ShouldBe((MismatchState.Open, 501, 0));
        (a.FirstSeenAt, a.SeenAt, a.Since).ShouldBe((Noon, Noon.AddMinutes(500), Noon));
        (b.State, b.EndedAt, b.SettledBy).ShouldBe((MismatchState.Gone, Noon.AddMinutes(1), null));
        (await LookAsync(501, "A", "A", "B")).ShouldBe(new Looked(0, 1, 0));
        (b = await OneAsync("B")).CameBack.ShouldBe(1);
        (b.State, b.Since, b.FirstSeenAt).ShouldBe((MismatchState.Open, Noon.AddMinutes(501), Noon));
        await using var db = _database.CreateDbContext();
        (await db.MismatchActs.SingleAsync()).Kind.ShouldBe(MismatchActKind.CameBack);
    }

    [Fact]
    public async Task What_was_settled_comes_back_only_by_a_look_that_is_newer_than_that()
    {
        await LookAsync(0, "A");
        var act = Act(MismatchActKind.Settled, 10);
        (await _store.ActAsync(act, [(await OneAsync("A")).Id], new MismatchChange(MismatchState.Settled), default)).ShouldBe(1);
        // A comparison of before, seen once more, says nothing against it.
        await LookAsync(5, "A");
        (await OneAsync("A")).SettledBy.ShouldBe("Ines");
        (await LookAsync(11, "A")).CameBack.ShouldBe(1);
        (await OneAsync("A")).ShouldSatisfyAllConditions(
            m => m.State.ShouldBe(MismatchState.Open),
            m => m.SettledBy.ShouldBeNull(),
            m => m.ActId.ShouldBeNull()
        );
    }

    [Fact]
    public async Task What_is_put_off_stays_so_until_its_time_and_is_gone_if_it_is_gone()
    {
        await LookAsync(0, "A", "B");
        await _store.ActAsync(
            Act(MismatchActKind.PutOff, 1),
            [(await OneAsync("A")).Id, (await OneAsync("B")).Id],
            new MismatchChange(MismatchState.PutOff, Noon.AddHours(2)),
            default
        );
        await LookAsync(30, "A");
        (await OneAsync("A")).State.ShouldBe(MismatchState.PutOff);
        (await OneAsync("B")).State.ShouldBe(MismatchState.Gone);
        await _store.WakeAsync(Noon.AddHours(1), default);
        (await OneAsync("A")).State.ShouldBe(MismatchState.PutOff);
        await _store.WakeAsync(Noon.AddHours(2), default);
        (await OneAsync("A")).ShouldSatisfyAllConditions(m => m.State.ShouldBe(MismatchState.Open), m => m.Until.ShouldBeNull());
    }

    [Fact]
    public async Task Two_origins_that_find_the_same_keep_one_which_the_first_of_them_ends()
    {
        await LookAsync(0, "A");
        await _store.TakeInAsync("ready:2", Noon, [Found("A")], default);
        await _store.TakeInAsync("ready:2", Noon.AddMinutes(1), [], default);
        (await OneAsync("A")).State.ShouldBe(MismatchState.Open);
        await LookAsync(2);
        (await OneAsync("A")).State.ShouldBe(MismatchState.Gone);
        await _store.TakeInAsync("ready:2", Noon.AddMinutes(3), [Found("A")], default);
        await LookAsync(4);
        (await OneAsync("A")).State.ShouldBe(MismatchState.Open, "it is the other's now");
        await _store.EndOthersAsync("ready:", ["ready:1"], Noon.AddMinutes(5), default);
        (await OneAsync("A")).State.ShouldBe(MismatchState.Gone, "there is no such origin any more");
    }

    [Fact]
    public async Task An_act_is_taken_back_but_for_what_was_done_since()
    {
        await LookAsync(0, "A", "B", "C");
        long[] all = [(await OneAsync("A")).Id, (await OneAsync("B")).Id, (await OneAsync("C")).Id];
        var given = Act(MismatchActKind.Given, 1);
        await _store.ActAsync(given, all, new MismatchChange(null, Gives: true, Owner: "Noor"), default);
        (await OneAsync("C")).Owner.ShouldBe("Noor");
        await _store.ActAsync(Act(MismatchActKind.Remark, 2), all, default, default);
        await _store.ActAsync(Act(MismatchActKind.Settled, 3), all[..1], new MismatchChange(MismatchState.Settled), default);
        (await _store.UndoAsync(given.Id, "Ines", Noon, default)).ShouldBe(2);
        (await OneAsync("A")).ShouldSatisfyAllConditions(m => m.Owner.ShouldBe("Noor"), m => m.State.ShouldBe(MismatchState.Settled));
        (await OneAsync("B")).Owner.ShouldBeNull();
        (await _store.UndoAsync(given.Id, "Ines", Noon, default)).ShouldBe(0, "once is enough");
        (await _store.ActAsync(Act(MismatchActKind.Settled, 4), all[..1], new MismatchChange(MismatchState.Settled), default)).ShouldBe(
            0,
            "somebody has settled it already"
        );
    }

    [Fact]
    public async Task Each_day_keeps_how_many_of_a_cause_were_open()
    {
        await LookAsync(0, "A", "B");
        await _store.CountDayAsync("2026-11-24", default);
        await LookAsync(1);
        await _store.CountDayAsync("2026-11-25", default);
        await LookAsync(2, "B");
        await _store.CountDayAsync("2026-11-25", default);
        await using var db = _database.CreateDbContext();
        (await db.MismatchDays.OrderBy(d => d.Day).Select(d => d.Open).ToListAsync()).ShouldBe([2, 1]);
    }

    /// <summary>Whatever is seen when and settled in between: the store says what a plain list of rules says.</summary>
    [Fact]
    public async Task Whatever_comes_and_goes_each_stands_as_the_rules_say()
    {
        for (var seed = 0; seed < 30; seed++)
        {
            await using (var db = _database.CreateDbContext())
                await db.Mismatches.ExecuteDeleteAsync();
            var expected = await RandomlyAsync(new Random(seed));
            await using var after = _database.CreateDbContext();
            var states = await after.Mismatches.ToDictionaryAsync(
                m => int.Parse(m.Key, System.Globalization.CultureInfo.InvariantCulture),
                m => m.State
            );
            states.OrderBy(s => s.Key).ShouldBe(expected.OrderBy(s => s.Key), $"seed {seed}");
        }
    }

    private async Task<Dictionary<int, MismatchState>> RandomlyAsync(Random random)
    {
        var expected = new Dictionary<int, MismatchState>();
        for (var minute = 0; minute < 12; minute++)
        {
            var seen = Enumerable.Range(0, 4).Where(_ => random.Next(2) == 0).ToHashSet();
            await LookAsync(2 * minute, [.. seen.Select(i => $"{i}")]);
            foreach (var i in seen)
                expected[i] = MismatchState.Open;
            foreach (var i in expected.Keys.Where(i => !seen.Contains(i) && expected[i] == MismatchState.Open).ToList())
                expected[i] = MismatchState.Gone;
            var which = random.Next(8);
            if (expected.GetValueOrDefault(which, MismatchState.Gone) != MismatchState.Open)
                continue;
            expected[which] = MismatchState.Settled;
            var act = Act(MismatchActKind.Settled, 2 * minute + 1);
            await _store.ActAsync(act, [(await OneAsync($"{which}")).Id], new MismatchChange(MismatchState.Settled), default);
        }

        return expected;
    }

    private Task<Looked> LookAsync(int minute, params string[] keys) =>
        _store.TakeInAsync("ready:1", Noon.AddMinutes(minute), keys.Select(Found), default);

    private static FoundMismatch Found(string key) =>
        new()
        {
            Cause = "ready.skuMissing",
            SystemId = "back-office",
            Kind = RecordKind.Item,
            Key = key,
            Words = "no SKU",
        };

    private static MismatchAct Act(MismatchActKind kind, int minute) =>
        new()
        {
            Kind = kind,
            By = "Ines",
            At = Noon.AddMinutes(minute),
        };

    private async Task<Mismatch> OneAsync(string key)
    {
        await using var db = _database.CreateDbContext();
        return await db.Mismatches.AsNoTracking().SingleAsync(m => m.Key == key);
    }
}
