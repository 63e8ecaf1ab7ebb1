using Narbit.Core;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>One record under a map on trial, seen through one field.</summary>
/// <param name="SourceKey">The source's key.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is in words.</param>
/// <param name="Source">The source's value.</param>
/// <param name="Now">What the target has.</param>
/// <param name="InForce">What the saved map gives.</param>
/// <param name="Trial">What the map on trial gives.</param>
/// <param name="Failure">Why it gives nothing, or null.</param>
public sealed record FieldSample(
    string SourceKey,
    string? Reference,
    string? Caption,
    string? Source,
    string? Now,
    string? InForce,
    string? Trial,
    Reason? Failure
);
