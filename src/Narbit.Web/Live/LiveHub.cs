using System.Collections.Concurrent;
using Microsoft.AspNetCore.SignalR;
using Narbit.Engine;

namespace Narbit.Web.Live;

/// <summary>Where open pages listen. They only ever receive.</summary>
internal sealed class LiveHub : Hub
{
    /// <summary>Its address.</summary>
    public const string Path = "/live";
}

/// <summary>Passes the engine's events on to open pages, at most ten a second for each thing, the last one always.</summary>
internal sealed class LiveBroadcast(LiveFeed feed, IHubContext<LiveHub> hub) : BackgroundService
{
    private readonly ConcurrentDictionary<(string, string), LiveEvent> _latest = new();

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        feed.Happened += Note;
        try
        {
            using var beat = new PeriodicTimer(TimeSpan.FromMilliseconds(100));
            while (await beat.WaitForNextTickAsync(stoppingToken))
            {
                foreach (var key in _latest.Keys)
                    if (_latest.TryRemove(key, out var what))
                        await hub.Clients.All.SendAsync("happened", what, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The host is stopping.
        }
        finally
        {
            feed.Happened -= Note;
        }
    }

    private void Note(LiveEvent what) => _latest[(what.Topic, what.Id)] = what;
}
