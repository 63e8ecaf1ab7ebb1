using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Reading;

/// <summary>Reading of both sides into the mirror.</summary>
public static class ReadingServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddReading(this IServiceCollection services) => services.AddSingleton<MirrorReader>();
}
