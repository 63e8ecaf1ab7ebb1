using Narbit.Engine;
using Narbit.Engine.Telling;
using Narbit.Web.Live;

namespace Narbit.Web.Telling;

/// <summary>Has people and other tools told of what needs somebody, as long as Narbit runs.</summary>
public sealed class TellWorker(Teller teller, Announcer announcer, LiveFeed live, TimeProvider clock, ILogger<TellWorker> log)
    : BackgroundService
{
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(30);

    // What is found together is told together.
    private static readonly TimeSpan Gathers = TimeSpan.FromSeconds(2);

    private readonly Bell _news = new();

    /// <inheritdoc/>
    public override void Dispose()
    {
        _news.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        try
        {
            while (true)
            {
                await _news.WaitAsync(Looks, stoppingToken);
                await Task.Delay(Gathers, clock, stoppingToken);
                await TellAsync(stoppingToken);
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

    // Tools that do not listen keep nobody from being told.
    private async Task TellAsync(CancellationToken cancel)
    {
        var told = await GuardedAsync(teller.TellAsync, cancel) + await GuardedAsync(announcer.TellAsync, cancel);
        if (told > 0)
            live.Tell(new LiveEvent("telling", "all"));
    }

    private async Task<int> GuardedAsync(Func<CancellationToken, Task<int>> tell, CancellationToken cancel)
    {
        try
        {
            return await tell(cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "What is new could not be told; it is tried again");
            return 0;
        }
    }

    private void Note(LiveEvent what)
    {
        if (what.Topic == "mismatches")
            _news.Ring();
    }
}
