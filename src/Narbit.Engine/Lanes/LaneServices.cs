using Microsoft.Extensions.DependencyInjection;
using Narbit.Engine.Lanes.Corrections;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Lanes.Orders;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes;

/// <summary>What lanes are tried with, and what is decided about orders.</summary>
public static class LaneServices
{
    /// <summary>Registers it.</summary>
    public static IServiceCollection AddLanes(this IServiceCollection services) =>
        services
            .AddSingleton<ITitleLimits, LimitedTitles>()
            .AddSingleton<CorrectionDesk>()
            .AddSingleton<ItemExceptions>()
            .AddSingleton<LaneTrial>()
            .AddSingleton<MapLook>()
            .AddSingleton<OrderDesk>()
            .AddSingleton<OrderShelf>()
            .AddSingleton<DefaultItemDesk>();
}
