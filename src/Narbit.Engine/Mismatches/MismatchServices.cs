using Microsoft.Extensions.DependencyInjection;
using Narbit.Engine.Mismatches.Corrections;
using Narbit.Engine.Mismatches.Items;
using Narbit.Engine.Mismatches.Orders;
using Narbit.Engine.Mismatches.Stock;
using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Mismatches;

/// <summary>The mismatch desk: where mismatches come from, what would settle them.</summary>
public static class MismatchServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddMismatches(this IServiceCollection services) =>
        services
            .AddSingleton<ILaneTroubles, OrderTroubles>()
            .AddSingleton<IMismatchSource, LaneMismatches>()
            .AddSingleton<IMismatchSource, SentMismatches>()
            .AddSingleton<IMismatchSource, PairMismatches>()
            .AddSingleton<IMismatchSource, SystemMismatches>()
            .AddSingleton<IMismatchSource, OrderMismatches>()
            .AddSingleton<IMismatchSource, JobMismatches>()
            .AddSingleton<IMismatchSource, EventMismatches>()
            .AddSingleton<IMismatchSource, SoldMismatches>()
            .AddSingleton<IMismatchSource, ProofMismatches>()
            .AddSingleton<MismatchBook>()
            .AddSingleton<IWayOut, PairUp>()
            .AddSingleton<IWayOut, EnterCode>()
            .AddSingleton<IWayOut, DecideOrder>()
            .AddSingleton<IWayOut, PutRight>()
            .AddSingleton<IWayOut, TryOnceMore>()
            .AddSingleton<IWayOut, TakeNewer>()
            .AddSingleton<IWayOut, LimitText>()
            .AddSingleton<IWayOut, KeepOff>()
            .AddSingleton<IWayOut, LearnHabit>()
            .AddSingleton<IWayOut, CoverOrders>()
            .AddSingleton<IWayOut, CompareAnew>()
            .AddSingleton<MismatchDesk>();
}
