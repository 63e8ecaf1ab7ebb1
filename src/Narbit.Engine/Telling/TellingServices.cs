using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Telling;

/// <summary>Mails to people, webhooks to other tools.</summary>
public static class TellingServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddTelling(this IServiceCollection services) =>
        services
            .AddSingleton<IMailDoor, SmtpDoor>()
            .AddSingleton<Teller>()
            .AddSingleton<IHookDoor, HttpHookDoor>()
            .AddSingleton<Announcer>();
}
