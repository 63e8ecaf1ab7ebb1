using Narbit.Engine.Jobs;

namespace Narbit.Web.Timetable;

/// <summary>Keeps the times of jobs, and looks and listens for news, as long as Narbit runs.</summary>
internal sealed class JobWorker(JobClock clock, Signals signals, NewsWatch news, ILogger<JobWorker> log) : BackgroundService
{
    private static readonly TimeSpan Rests = TimeSpan.FromSeconds(5);

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(
            KeepAsync(clock.WorkAsync, stoppingToken),
            KeepAsync(signals.WorkAsync, stoppingToken),
            KeepAsync(news.WorkAsync, stoppingToken)
        );

    private async Task KeepAsync(Func<CancellationToken, Task> work, CancellationToken stopping)
    {
        // The first beat may have much to settle; the pages need not wait for it.
        await Task.Yield();
        while (!stopping.IsCancellationRequested)
            try
            {
                await work(stopping);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "The timetable could not be kept; it is tried again");
                await Task.Delay(Rests, stopping);
            }
    }
}
