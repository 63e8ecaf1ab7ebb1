namespace Narbit.Data.Proofs;

/// <summary>A full compare of all lanes, with both sides read afresh.</summary>
public sealed class ProofRound
{
    public long Id { get; set; }

    /// <summary>Who asked for it; null: the night did.</summary>
    public string? By { get; set; }

    /// <summary>The day in the workspace's zone, as <c>yyyy-MM-dd</c>.</summary>
    public required string Day { get; set; }

    public DateTimeOffset StartedAt { get; set; }

    /// <summary>When it was over; null: it is at work, or is taken up at the next start.</summary>
    public DateTimeOffset? EndedAt { get; set; }
}
