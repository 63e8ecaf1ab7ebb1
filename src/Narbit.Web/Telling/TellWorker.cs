using Narbit.Engine;
using Narbit.Engine.Telling;
using Narbit.Web.Live;

namespace Narbit.Web.Telling;

/// <summary>Has people and other tools told of what needs somebody, as long as Narbit runs.</summary>
internal sealed class TellWorker(Teller teller, Announcer announcer, LiveFeed live, TimeProvider clock, ILogger<TellWorker> log)
    : BackgroundService
{
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(30);

    // What is found together is told together.
    private static readonly TimeSpan Gathers = TimeSpan.FromSeconds(2);

    private readonly Bell _mails = new();
    private readonly Bell _hooks = new();

    /// <inheritdoc/>
    public override void Dispose()
    {
        _mails.Dispose();
        _hooks.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        try
        {
            // Tools that are slow, or do not listen, keep nobody from being told.
            await Task.WhenAll(TellAsync(_mails, teller.TellAsync, stoppingToken), TellAsync(_hooks, announcer.TellAsync, stoppingToken));
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

    private async Task TellAsync(Bell news, Func<CancellationToken, Task<int>> tell, CancellationToken cancel)
    {
        while (true)
        {
            await news.WaitAsync(Looks, cancel);
            await Task.Delay(Gathers, clock, cancel);
            if (await GuardedAsync(tell, cancel) > 0)
                live.Tell(new LiveEvent("telling", "all"));
        }
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
        if (what.Topic != "mismatches")
            return;
        _mails.Ring();
        _hooks.Ring();
    }
}
