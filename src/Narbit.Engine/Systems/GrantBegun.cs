namespace Narbit.Engine.Systems;

/// <summary>A request for access that was begun.</summary>
/// <param name="Id">Its name.</param>
/// <param name="Address">Where the person is sent.</param>
public sealed record GrantBegun(string Id, string Address);
