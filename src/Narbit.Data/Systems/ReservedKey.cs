using Narbit.Core.Records;

namespace Narbit.Data.Systems;

/// <summary>A key that was given to a record before it was created, so that nothing else gets it and a second try gives the same.</summary>
public sealed class ReservedKey
{
    public required string SystemId { get; set; }

    public required RecordKind Kind { get; set; }

    public required long Key { get; set; }

    /// <summary>The creation that it is for.</summary>
    public required string IdempotencyKey { get; set; }

    /// <summary>When it was reserved.</summary>
    public DateTimeOffset At { get; set; }
}
