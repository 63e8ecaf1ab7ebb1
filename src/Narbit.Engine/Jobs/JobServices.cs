using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Jobs;

/// <summary>Jobs by the clock and at once.</summary>
public static class JobServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddJobs(this IServiceCollection services) =>
        services
            .AddSingleton<TurnMover>()
            .AddSingleton<JobClock>()
            .AddSingleton<JobDesk>()
            .AddSingleton<JobCopying>()
            .AddSingleton<Signals>()
            .AddSingleton<Advisor>()
            .AddSingleton<NewsWatch>();
}
