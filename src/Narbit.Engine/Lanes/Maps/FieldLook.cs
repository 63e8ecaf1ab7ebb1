using Narbit.Core;
using Narbit.Core.Comparing;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>One field of a record, with the value after each step.</summary>
/// <param name="Target">The target's field.</param>
/// <param name="Value">What the chain gives.</param>
/// <param name="There">What the target has.</param>
/// <param name="Sign">The mark on the seam.</param>
/// <param name="Why">The verdict, in words.</param>
/// <param name="Failure">Why there is no value, or null.</param>
/// <param name="Trace">The value after each step.</param>
public sealed record FieldLook(
    string Target,
    string? Value,
    string? There,
    SeamSign Sign,
    string Why,
    Reason? Failure,
    IReadOnlyList<TraceStep> Trace
);
