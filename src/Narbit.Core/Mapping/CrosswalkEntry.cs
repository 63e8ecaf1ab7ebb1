namespace Narbit.Core.Mapping;

/// <summary>An entry of a crosswalk.</summary>
/// <param name="From">The source's code.</param>
/// <param name="To">The target's code.</param>
public sealed record CrosswalkEntry(string From, string To);
