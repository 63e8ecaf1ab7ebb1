namespace Narbit.Core.Telling;

/// <summary>A message as it is sent: a text, and the same as HTML.</summary>
public sealed record Message(string Subject, string Text, string Html);
