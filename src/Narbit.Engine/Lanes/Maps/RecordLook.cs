namespace Narbit.Engine.Lanes.Maps;

/// <summary>A record under a map, field by field.</summary>
/// <param name="SourceKey">The source's key.</param>
/// <param name="TargetKey">The target's key, or null where it is not paired.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is in words.</param>
/// <param name="Fields">The fields whose chains fit.</param>
public sealed record RecordLook(string SourceKey, string? TargetKey, string? Reference, string? Caption, IReadOnlyList<FieldLook> Fields);
