namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order of the store and its document at the hub.</summary>
/// <inheritdoc/>
internal sealed record OrderPair(SideRecord Source, SideRecord Target, string? Reference, string? Caption)
    : LanePair(Source, Target, Reference, Caption)
{
    /// <summary>The order with its lists, and what the hub knows of it.</summary>
    public required OrderPlace Place { get; init; }
}
