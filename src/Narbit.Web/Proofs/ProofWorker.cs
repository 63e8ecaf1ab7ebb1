using Narbit.Engine;
using Narbit.Engine.Proofs;
using Narbit.Web.Live;

namespace Narbit.Web.Proofs;

/// <summary>Has all lanes compared when the night's time has come or somebody asks, as long as Narbit runs.</summary>
internal sealed class ProofWorker(ProofDesk desk, LiveFeed live, ILogger<ProofWorker> log) : BackgroundService
{
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(30);

    private readonly Bell _asked = new();

    /// <inheritdoc/>
    public override void Dispose()
    {
        _asked.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        live.Happened += Note;
        try
        {
            await Task.Yield();
            while (true)
            {
                await WorkAsync(stoppingToken);
                await _asked.WaitAsync(Looks, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The host is stopping; a round that is at work goes on at the next start.
        }
        finally
        {
            live.Happened -= Note;
        }
    }

    private async Task WorkAsync(CancellationToken cancel)
    {
        try
        {
            await desk.WorkAsync(cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log.LogError(error, "The lanes could not be compared; it is tried again");
        }
    }

    private void Note(LiveEvent what)
    {
        if (what is { Topic: ProofDesk.Topic, Done: null })
            _asked.Ring();
    }
}
