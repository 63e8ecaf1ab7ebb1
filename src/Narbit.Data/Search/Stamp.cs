namespace Narbit.Data.Search;

/// <summary>When a record changed last, in UTC ticks.</summary>
public readonly record struct Stamp(long RecordId, long ChangedAt);
