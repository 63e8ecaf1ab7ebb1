namespace Narbit.Data.Search;

/// <summary>A record of the mirror as the search index takes it in.</summary>
public readonly record struct ToIndex(long Id, string SystemId, string Kind, string Key, string? Reference, string? Caption, string Values);
