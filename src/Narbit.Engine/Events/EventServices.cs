using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Events;

/// <summary>Webhooks in.</summary>
public static class EventServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddEvents(this IServiceCollection services) => services.AddSingleton<HookDesk>();
}
