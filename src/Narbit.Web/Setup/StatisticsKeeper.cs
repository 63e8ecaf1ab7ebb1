using Narbit.Data;

namespace Narbit.Web.Setup;

/// <summary>
/// Lets the statistics of the database follow what is in it, once an hour: a workspace that was small at the start may be large.
/// </summary>
internal sealed class StatisticsKeeper(Database database, TimeProvider clock, ILogger<StatisticsKeeper> log) : BackgroundService
{
    private static readonly TimeSpan Looks = TimeSpan.FromHours(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Looks, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
            try
            {
                await database.OptimizeAsync(stoppingToken);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "The statistics of the database could not be renewed; it is tried again in an hour");
            }
    }
}
