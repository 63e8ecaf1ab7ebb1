namespace Narbit.Adapters.Describing;

/// <summary>A request as it would be sent.</summary>
/// <param name="Method">The method.</param>
/// <param name="Path">The path below the system's address.</param>
/// <param name="Body">The body; empty where there is none.</param>
public sealed record ShownRequest(string Method, string Path, string Body);
