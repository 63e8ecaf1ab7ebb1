using Narbit.Core.Records;

namespace Narbit.Data.Mirror;

/// <summary>
/// A value that was seen to have changed in a system, whoever changed it. Written by the database itself whenever a mirrored record
/// changes.
/// </summary>
public sealed class ValueChange
{
    public long Id { get; set; }

    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required string Key { get; set; }

    public required string Field { get; set; }

    public string? Old { get; set; }

    public string? New { get; set; }

    /// <summary>When it was seen.</summary>
    public required DateTimeOffset At { get; set; }

    /// <summary>The write of ours that was seen in it; null: somebody else changed it.</summary>
    public long? WriteId { get; set; }
}
