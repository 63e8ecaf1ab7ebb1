using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.People;

/// <summary>One person's data.</summary>
public static class PeopleServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddPeople(this IServiceCollection services) => services.AddSingleton<PersonDesk>();
}
