namespace Narbit.Core;

/// <summary>One line of a trace: what a step made of a value, and why.</summary>
/// <param name="Step">The step's name in the rules, e.g. <c>bands</c>; the steps of a carried sale price start with <c>sale </c>.</param>
/// <param name="Before">The value that came in, or null if there was none.</param>
/// <param name="After">The value that went out, or null if none is left.</param>
/// <param name="Why">The reason in plain words.</param>
public readonly record struct TraceStep(string Step, string? Before, string? After, string Why);
