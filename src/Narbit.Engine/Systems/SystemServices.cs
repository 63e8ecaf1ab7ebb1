using Microsoft.Extensions.DependencyInjection;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Systems;

/// <summary>Connected systems: who talks to them, what was granted there, what another description would do.</summary>
public static class SystemServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddSystems(this IServiceCollection services) =>
        services.AddSingleton<KeptHostKeys>().AddSingleton<AdapterSource>().AddSingleton<GrantDesk>().AddSingleton<DescriptionEffects>();
}
