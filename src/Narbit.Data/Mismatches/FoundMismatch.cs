using Narbit.Core.Records;

namespace Narbit.Data.Mismatches;

/// <summary>A mismatch as it was found now; see <see cref="Mismatch"/> for what its parts mean.</summary>
public sealed record FoundMismatch
{
    public required string Cause { get; init; }

    public required string SystemId { get; init; }

    public RecordKind Kind { get; init; }

    public string Key { get; init; } = "";

    public string Scope { get; init; } = "";

    public string? OtherSystemId { get; init; }

    public string? OtherKey { get; init; }

    public string? LaneId { get; init; }

    public long? CoupleId { get; init; }

    public long? RunId { get; init; }

    public string? Reference { get; init; }

    public string? Caption { get; init; }

    public required string Words { get; init; }

    public string? Subject { get; init; }

    public string? Hint { get; init; }

    public string? Proposal { get; init; }

    public string? Because { get; init; }

    public decimal? Pieces { get; init; }

    /// <summary>How much money it is about, in <see cref="Currency"/>.</summary>
    public decimal? Worth { get; init; }

    public string? Currency { get; init; }

    /// <summary>Since when it is so; null: since it is seen.</summary>
    public DateTimeOffset? Since { get; init; }
}
