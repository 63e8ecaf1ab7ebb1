using Microsoft.Extensions.DependencyInjection;

namespace Narbit.Engine.Pairing;

/// <summary>The pair desk and what stands behind it.</summary>
public static class PairingServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddPairing(this IServiceCollection services) =>
        services
            .AddSingleton<DecisionDesk>()
            .AddSingleton<PairingStep>()
            .AddSingleton<PairDesk>()
            .AddSingleton<ReadinessDesk>()
            .AddSingleton<DeskList>()
            .AddSingleton<DeskSeams>()
            .AddSingleton<DeskHistory>()
            .AddSingleton<StockTaking>()
            .AddSingleton<PairTableImport>()
            .AddSingleton<ItemOverview>()
            .AddSingleton<Exposures>();
}
