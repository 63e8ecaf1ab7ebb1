namespace Narbit.Adapters.Rest;

/// <summary>A call that shows whether the system answers.</summary>
/// <param name="Path">The path.</param>
/// <param name="NamePath">Where the reply keeps the system's name.</param>
public sealed record RestProbe(string Path, string? NamePath = null);
