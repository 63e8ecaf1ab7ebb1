using Narbit.Core;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Records that cannot be mapped, for one reason.</summary>
/// <param name="Why">The reason, as the first of them says it.</param>
/// <param name="Count">How many.</param>
/// <param name="Reference">What a person knows the first one by.</param>
/// <param name="SourceKey">The first one's key.</param>
/// <param name="Target">The first field that fails for this reason, or null where no single field is in the way.</param>
public sealed record FailureGroup(Reason Why, int Count, string? Reference, string SourceKey, string? Target);
