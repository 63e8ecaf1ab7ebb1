namespace Narbit.Adapters;

/// <summary>The answer to a connection test.</summary>
/// <param name="Ok">Whether the system can be worked with.</param>
/// <param name="Message">What was found, in plain words.</param>
/// <param name="Milliseconds">How long the first answer took.</param>
public sealed record TestAnswer(bool Ok, string Message, int Milliseconds);
