using Microsoft.Extensions.Logging.Abstractions;
using Narbit.Engine.Jobs;

namespace Narbit.Engine.Tests;

/// <summary>The jobs of a workbench, by a clock of their own.</summary>
public sealed class Jobs : IDisposable
{
    private Jobs(Workbench bench, TimeProvider clock)
    {
        var turns = new TurnMover(bench.Database, bench.Runs, bench.Live, clock, NullLogger<TurnMover>.Instance);
        Clock = new JobClock(bench.Database, turns, bench.Live, clock, NullLogger<JobClock>.Instance);
        Desk = new JobDesk(bench.Database, Clock, bench.Live, clock);
        Signals = new Signals(bench.Database, Clock, bench.Live, clock);
        Copying = new JobCopying(bench.Database, bench.Adapters, Desk, clock);
    }

    public JobClock Clock { get; }

    public JobDesk Desk { get; }

    public Signals Signals { get; }

    public JobCopying Copying { get; }

    public static Jobs Of(Workbench bench, TimeProvider? clock = null) => new(bench, clock ?? TimeProvider.System);

    /// <summary>Beats until no turn is at work.</summary>
    public async Task EndedAsync(Workbench bench)
    {
        await Clock.BeatAsync(default);
        while (await AtWorkAsync(bench))
        {
            await bench.Engine.WhenIdleAsync();
            await Clock.BeatAsync(default);
        }
    }

    public void Dispose() => Clock.Dispose();

    private static async Task<bool> AtWorkAsync(Workbench bench)
    {
        await using var db = bench.Database.CreateDbContext();
        return db.Turns.Any(t =>
            t.State == Data.Jobs.TurnState.Waiting
            || (t.State == Data.Jobs.TurnState.Working && t.Steps.Any(s => s.State == Data.Jobs.TurnStepState.Working))
        );
    }
}
