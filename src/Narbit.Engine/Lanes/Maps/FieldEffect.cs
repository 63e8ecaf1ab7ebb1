namespace Narbit.Engine.Lanes.Maps;

/// <summary>What a map on trial does to one field.</summary>
/// <param name="Target">The target's field.</param>
/// <param name="Changes">Records in which it would change.</param>
/// <param name="Failing">Records that cannot be mapped because of it.</param>
/// <param name="Cut">Records whose text is too long for it and is cut.</param>
/// <param name="FirstCut">The source's key of the first of them; null: none is cut.</param>
public sealed record FieldEffect(string Target, int Changes, int Failing, int Cut, string? FirstCut);
