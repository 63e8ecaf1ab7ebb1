using System.Threading.Channels;
using Narbit.Engine;
using Narbit.Engine.Mismatches;

namespace Narbit.Web.Mismatches;

/// <summary>Keeps the desk up to date: at the start, whenever something has happened, and when what was put off comes back.</summary>
internal sealed class MismatchKeeper(MismatchBook book, LiveFeed live, TimeProvider clock, ILogger<MismatchKeeper> log) : BackgroundService
{
    // What happens comes in bursts: one round for all of it.
    private static readonly TimeSpan Burst = TimeSpan.FromMilliseconds(300);
    private static readonly TimeSpan Wakes = TimeSpan.FromMinutes(1);

    // So many times as long as a round took it rests: it must not take the time of those whose work it looks at.
    private const int RestsFor = 4;
    private const int MostWaiting = 10_000;

    private static readonly HashSet<string> Heard = new(StringComparer.Ordinal)
    {
        "read",
        "run",
        "lane",
        "pairs",
        "system",
        "job",
        "proof",
    };

    private readonly Channel<LiveEvent> _waiting = Channel.CreateBounded<LiveEvent>(
        new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest }
    );

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        try
        {
            await Task.Yield();
            await GuardedAsync(book.LookAtAllAsync, stoppingToken);
            await Task.WhenAll(FollowAsync(stoppingToken), WakeAsync(stoppingToken));
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

    private async Task FollowAsync(CancellationToken cancel)
    {
        while (await _waiting.Reader.WaitToReadAsync(cancel))
        {
            await Task.Delay(Burst, clock, cancel);
            var events = new HashSet<LiveEvent>();
            while (_waiting.Reader.TryRead(out var what))
                events.Add(what);
            var begun = clock.GetTimestamp();
            await GuardedAsync(c => book.LookAtAsync(events, c), cancel);
            await Task.Delay(clock.GetElapsedTime(begun) * RestsFor, clock, cancel);
        }
    }

    private async Task WakeAsync(CancellationToken cancel)
    {
        using var timer = new PeriodicTimer(Wakes, clock);
        while (await timer.WaitForNextTickAsync(cancel))
            await GuardedAsync(book.WakeAsync, cancel);
    }

    private async Task GuardedAsync(Func<CancellationToken, Task> work, CancellationToken cancel)
    {
        try
        {
            await work(cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "What does not match could not be looked for; it is looked for with the next change");
        }
    }

    // While something is at work it tells how far it is; what it did counts when it is done.
    private void Note(LiveEvent what)
    {
        var over = what.Topic == "read" ? what.Phase?.EndsWith(":reading", StringComparison.Ordinal) == false : what.Done is null;
        if (over && Heard.Contains(what.Topic))
            _waiting.Writer.TryWrite(what);
    }
}
