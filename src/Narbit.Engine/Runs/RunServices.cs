using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Runs;

/// <summary>Runs: what carries them out, what is decided about them.</summary>
public static class RunServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddRuns(this IServiceCollection services) =>
        services.AddSingleton<RunEngine>().AddSingleton<RunDesk>();
}
