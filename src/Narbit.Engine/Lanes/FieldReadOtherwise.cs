namespace Narbit.Engine.Lanes;

/// <summary>What another description does to a field.</summary>
/// <param name="Field">The field.</param>
/// <param name="Records">In how many records it has another value.</param>
/// <param name="First">The first of them, at most 20.</param>
public sealed record FieldReadOtherwise(string Field, int Records, IReadOnlyList<ReadOtherwise> First);
