using Narbit.Core.Records;

namespace Narbit.Data.Lanes;

/// <summary>
/// What a record's field held when its system and another last agreed on it: what was sent and confirmed, or found to be the same.
/// It belongs to the pair of records and not to a lane, so that two lanes over one pair know of each other's writes.
/// </summary>
public sealed class Agreed
{
    /// <summary>The system that has the field.</summary>
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    /// <summary>The record that has the field.</summary>
    public required string Key { get; set; }

    /// <summary>The other system.</summary>
    public required string WithId { get; set; }

    /// <summary>The other system's record.</summary>
    public required string WithKey { get; set; }

    public required string Field { get; set; }

    public string? Value { get; set; }

    /// <summary>What the value came from: for stock the source's basis, for a listing that its item took away the word for it.</summary>
    public string? Source { get; set; }

    public required DateTimeOffset At { get; set; }
}
