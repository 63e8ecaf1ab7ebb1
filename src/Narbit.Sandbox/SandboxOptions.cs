using Narbit.Sandbox.Demo;

namespace Narbit.Sandbox;

/// <summary>How to start the sandbox.</summary>
/// <param name="Port">The loopback port; 0 takes a free one.</param>
/// <param name="DataFolder">Where edits, the till's folders and the list of troubles are kept; null: a folder that goes with the
/// sandbox.</param>
/// <param name="Items">How many items the back office has.</param>
/// <param name="ShopRequestsPerSecond">The web shop's limit.</param>
/// <param name="Orders">How many orders the stores have between them.</param>
public sealed record SandboxOptions(
    int Port = 0,
    string? DataFolder = null,
    int Items = Catalogue.DefaultItems,
    int ShopRequestsPerSecond = 20,
    int Orders = OrderBooks.DefaultOrders
);
