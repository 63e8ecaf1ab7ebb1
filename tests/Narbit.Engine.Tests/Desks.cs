using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging.Abstractions;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Mismatches.Corrections;
using Narbit.Engine.Mismatches.Items;
using Narbit.Engine.Mismatches.Orders;
using Narbit.Engine.Mismatches.Stock;
using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Tests;

/// <summary>The mismatch desk of a workbench, with every source and every way out.</summary>
internal static class Desks
{
    public static MismatchBook BookOf(Workbench bench, TimeProvider? clock = null) =>
        new(
            bench.Database,
            [
                new LaneMismatches([new OrderTroubles()]),
                new SentMismatches(),
                new PairMismatches(bench.Desk),
                new SystemMismatches(bench.Adapters, clock ?? TimeProvider.System),
                new OrderMismatches(clock ?? TimeProvider.System),
                new JobMismatches(),
                new EventMismatches(clock ?? TimeProvider.System),
                new SoldMismatches(bench.Database, bench.Adapters, TimeProvider.System),
                new ProofMismatches(),
            ],
            bench.Live,
            TimeProvider.System,
            NullLogger<MismatchBook>.Instance
        );

    public static MismatchDesk DeskOf(Workbench bench) => new(bench.Database, WaysOf(bench), bench.Live, TimeProvider.System);

    public static IReadOnlyList<IWayOut> WaysOf(Workbench bench) =>
        [
            new PairUp(bench.Decisions, bench.Live),
            new EnterCode(bench.Database, bench.Adapters, bench.Live, TimeProvider.System),
            new DecideOrder(bench.Database, bench.Adapters, new OrderDesk(bench.Database, bench.Adapters, TimeProvider.System)),
            new PutRight(bench.Corrections, bench.Runs),
            new TryOnceMore(bench.Runs),
            new TakeNewer(bench.Database, bench.Runs),
            new LimitText(bench.Database, bench.Adapters, bench.Live, TimeProvider.System),
            new KeepOff(new ItemExceptions(bench.Database, bench.Live)),
            new LearnHabit(bench.Desk, bench.Live),
            new CoverOrders(bench.Database, bench.Adapters, bench.Runs),
            new CompareAnew(bench.Runs),
        ];

    public static async Task<List<Mismatch>> OpenAsync(Workbench bench, string cause)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db
            .Mismatches.AsNoTracking()
            .Where(m => m.Cause == cause && m.State == MismatchState.Open)
            .OrderBy(m => m.Id)
            .ToListAsync();
    }

    public static async Task<Mismatch> OneAsync(Workbench bench, long id)
    {
        await using var db = bench.Database.CreateDbContext();
        return await db.Mismatches.AsNoTracking().SingleAsync(m => m.Id == id);
    }

    /// <summary>Takes ways out in a process that ends before it could say what it did.</summary>
    /// <returns>The act that was begun.</returns>
    public static async Task<long> CutOffAsync(Workbench bench, IReadOnlyList<long> ids)
    {
        await using var db = bench.Database.CreateDbContext();
        const string Ends = "CREATE TRIGGER Ends BEFORE UPDATE ON MismatchActs BEGIN SELECT RAISE(ABORT, 'ended'); END";
        await db.Database.ExecuteSqlRawAsync(Ends);
        await Should.ThrowAsync<SqliteException>(() => DeskOf(bench).TakeAsync(ids, null, "Ines", default));
        await db.Database.ExecuteSqlRawAsync("DROP TRIGGER Ends");
        return await db.MismatchActs.MaxAsync(a => a.Id);
    }
}
