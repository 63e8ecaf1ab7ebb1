namespace Narbit.Engine.Lanes;

/// <summary>What another description of a system does, before it is saved.</summary>
/// <param name="Kinds">To its records.</param>
/// <param name="Lanes">To its lanes; those that go on as they are are not among them.</param>
public sealed record DescriptionEffect(IReadOnlyList<KindEffect> Kinds, IReadOnlyList<LaneEffect> Lanes);
