namespace Narbit.Engine.Workspaces.Files;

/// <summary>Something in a file that is wrong.</summary>
/// <param name="File">The file.</param>
/// <param name="Line">The line, from 1 on; null: all of it.</param>
/// <param name="Words">What is wrong, and what to do.</param>
public sealed record WorkspaceFault(string File, int? Line, string Words);
