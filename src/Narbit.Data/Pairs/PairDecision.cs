namespace Narbit.Data.Pairs;

/// <summary>What somebody decided of a record, when, and from which evidence. Never deleted.</summary>
public sealed class PairDecision
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    /// <summary>The batch it was committed in; null while it waits.</summary>
    public long? BatchId { get; set; }

    public required DecisionAct Act { get; set; }

    public DecisionState State { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    /// <summary>For a kit: its parts, JSON.</summary>
    public string? Parts { get; set; }

    /// <summary>For set aside: why.</summary>
    public string? Reason { get; set; }

    /// <summary>What pairing said at that time, in words.</summary>
    public required string Evidence { get; set; }

    public string? Verdict { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    public string? Caption { get; set; }

    /// <summary>The hub's record that nobody else may decide meanwhile; null where many may share it.</summary>
    public string? HubClaim { get; set; }

    /// <summary>The other side's record that nobody else may decide meanwhile.</summary>
    public string? OtherClaim { get; set; }

    /// <summary>For unpair: what was there before, JSON.</summary>
    public string? Before { get; set; }

    public required string By { get; set; }

    public required DateTimeOffset At { get; set; }

    /// <summary>The act of the mismatch desk that it is part of; null: of none.</summary>
    public long? DeskActId { get; set; }

    /// <summary>When it was thrown away; those that were thrown away together share the instant.</summary>
    public DateTimeOffset? ThrownAt { get; set; }

    public string? ThrownBy { get; set; }
}
