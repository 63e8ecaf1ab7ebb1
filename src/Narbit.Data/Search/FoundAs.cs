namespace Narbit.Data.Search;

/// <summary>A record that can be found: its number in the mirror, and everything that it may be called.</summary>
public readonly record struct FoundAs(long RecordId, string Words);
