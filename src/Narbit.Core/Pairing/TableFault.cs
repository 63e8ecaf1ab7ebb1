namespace Narbit.Core.Pairing;

/// <summary>A line that did not fit.</summary>
/// <param name="Line">The line.</param>
/// <param name="Message">Why, and what to do.</param>
public sealed record TableFault(int Line, string Message);
