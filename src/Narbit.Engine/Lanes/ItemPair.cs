using Narbit.Core.Stock;

namespace Narbit.Engine.Lanes;

/// <summary>A pair of items, with what the source has of them.</summary>
/// <inheritdoc/>
public record ItemPair(SideRecord Source, SideRecord Target, string? Reference, string? Caption)
    : LanePair(Source, Target, Reference, Caption)
{
    /// <summary>The source's stock levels of the item.</summary>
    public IReadOnlyList<StockLevel> Levels { get; init; } = [];

    /// <summary>Why the source's stock levels cannot be believed; null: they can.</summary>
    public string? LevelProblem { get; init; }

    /// <summary>What a kit stands for; empty where the target's record is no kit.</summary>
    public IReadOnlyList<KitPart> Kit { get; init; } = [];

    /// <inheritdoc/>
    public override string? Unbelievable => base.Unbelievable ?? LevelProblem;
}
