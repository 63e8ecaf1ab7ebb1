using System.Threading.Channels;
using Narbit.Engine;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Pairing;

namespace Narbit.Web.Items;

/// <summary>How many items can be oversold.</summary>
/// <param name="Items">Items of which all listings together promise more than is available.</param>
/// <param name="Pieces">By how many pieces.</param>
/// <param name="Since">Since when at least one could be.</param>
public sealed record Exposed(int Items, decimal Pieces, DateTimeOffset Since);

/// <summary>
/// Counts what can be oversold whenever something has changed it, so that whoever looks at the day does not have to wait for it.
/// </summary>
internal sealed class ExposureWatch(
    Exposures exposures,
    MismatchBook mismatches,
    LiveFeed live,
    TimeProvider clock,
    ILogger<ExposureWatch> log
) : BackgroundService
{
    // Changes come in bursts: one count for all of them.
    private static readonly TimeSpan Burst = TimeSpan.FromMilliseconds(400);

    // So many times as long as it took it rests.
    private const int RestsFor = 9;

    private static readonly HashSet<string> Changing = new(StringComparer.Ordinal) { "read", "run", "pairs", "system" };

    private readonly Channel<bool> _due = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite }
    );

    /// <summary>The items as found last; null: they have not been looked for yet.</summary>
    public IReadOnlyList<ExposedItem>? Items { get; private set; }

    /// <summary>As counted last; null: nothing can be oversold, as far as is known.</summary>
    public Exposed? Latest { get; private set; }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        _due.Writer.TryWrite(true);
        try
        {
            await foreach (var _ in _due.Reader.ReadAllAsync(stoppingToken))
            {
                var begun = clock.GetTimestamp();
                await CountAsync(stoppingToken);
                // Where there is much to count, it must not take the time of those who change it.
                var rest = clock.GetElapsedTime(begun) * RestsFor;
                await Task.Delay(rest > Burst ? rest : Burst, clock, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The host is stopping.
        }
        finally
        {
            live.Happened -= Note;
        }
    }

    private async Task CountAsync(CancellationToken cancel)
    {
        try
        {
            var all = await exposures.AllAsync(cancel);
            Items = all;
            var before = Latest;
            Latest = all.Count == 0 ? null : new Exposed(all.Count, all.Sum(e => e.Exposure), before?.Since ?? clock.GetUtcNow());
            await mismatches.TakeInAsync(all, cancel);
            if (before?.Items != Latest?.Items || before?.Pieces != Latest?.Pieces)
                live.Tell(new LiveEvent("exposure", "all"));
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "What can be oversold could not be counted; it is counted again with the next change");
        }
    }

    private void Note(LiveEvent what)
    {
        // While something is at work it tells how far it is; what it did counts when it is done.
        if (Changing.Contains(what.Topic) && (what.Done is null || what.Phase?.EndsWith(":done", StringComparison.Ordinal) == true))
            _due.Writer.TryWrite(true);
    }
}
