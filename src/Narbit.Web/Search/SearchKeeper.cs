using System.Threading.Channels;
using Narbit.Engine;
using Narbit.Engine.Searching;

namespace Narbit.Web.Search;

/// <summary>Keeps the search index up to date: at the start, and whenever something has been read or written.</summary>
internal sealed class SearchKeeper(SearchIndex index, LiveFeed live, TimeProvider clock, ILogger<SearchKeeper> log) : BackgroundService
{
    // What is read comes in bursts: one round for all of them.
    private static readonly TimeSpan Burst = TimeSpan.FromMilliseconds(300);

    private readonly Channel<bool> _due = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite }
    );

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        _due.Writer.TryWrite(true);
        try
        {
            await foreach (var _ in _due.Reader.ReadAllAsync(stoppingToken))
            {
                await CatchUpAsync(stoppingToken);
                await Task.Delay(Burst, clock, stoppingToken);
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

    private async Task CatchUpAsync(CancellationToken cancel)
    {
        try
        {
            await index.CatchUpAsync(cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "The search index could not be brought up to date; it is tried again with the next change");
        }
    }

    private void Note(LiveEvent what)
    {
        var read = what.Topic == "read" && what.Phase?.EndsWith(":done", StringComparison.Ordinal) == true;
        if (read || what is { Topic: "run", Done: null })
            _due.Writer.TryWrite(true);
    }
}
