using Narbit.Engine.Jobs;

namespace Narbit.Web.Timetable;

/// <summary>Keeps the times of jobs as long as Narbit runs.</summary>
public sealed class JobWorker(JobClock clock, ILogger<JobWorker> log) : BackgroundService
{
    private static readonly TimeSpan Rests = TimeSpan.FromSeconds(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        // The first beat may have much to settle; the pages need not wait for it.
        await Task.Yield();
        while (!stoppingToken.IsCancellationRequested)
            try
            {
                await clock.WorkAsync(stoppingToken);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "The timetable could not be kept; it is tried again");
                await Task.Delay(Rests, stoppingToken);
            }
    }
}
