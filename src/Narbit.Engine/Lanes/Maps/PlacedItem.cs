namespace Narbit.Engine.Lanes.Maps;

/// <summary>A pair of an item lane, with how the source's record stands at the target.</summary>
/// <inheritdoc/>
public sealed record PlacedItem(SideRecord Source, SideRecord Target, string? Reference, string? Caption)
    : ItemPair(Source, Target, Reference, Caption)
{
    /// <summary>What is looked at beyond the two records.</summary>
    public required ItemPlace Place { get; init; }
}
