using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Searching;

/// <summary>The search over all records.</summary>
public static class SearchServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddSearching(this IServiceCollection services) =>
        services.AddSingleton<SearchIndex>().AddSingleton<RecordSearch>();
}
