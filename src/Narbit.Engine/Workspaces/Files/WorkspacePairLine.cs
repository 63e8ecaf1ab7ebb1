namespace Narbit.Engine.Workspaces.Files;

/// <summary>A line of <c>pairs/KIND-HUB-OTHER.csv</c>.</summary>
/// <param name="HubKey">The hub's record.</param>
/// <param name="OtherKey">The other system's.</param>
/// <param name="What">What is decided.</param>
/// <param name="Quantity">How many of the hub's record one of the other stands for.</param>
/// <param name="Reason">Of what is set aside: why.</param>
public readonly record struct WorkspacePairLine(string? HubKey, string? OtherKey, PairLineKind What, decimal Quantity, string? Reason);
