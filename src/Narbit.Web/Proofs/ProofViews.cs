using Narbit.Core.Comparing;
using Narbit.Engine.Systems;

namespace Narbit.Web.Proofs;

/// <summary>What a full compare found of a lane.</summary>
internal sealed record LaneProofView
{
    public required long Id { get; init; }

    public required string LaneId { get; init; }

    /// <summary>What flows, e.g. <c>Prices</c>.</summary>
    public required string Lane { get; init; }

    public required SystemTag? Source { get; init; }

    public required SystemTag? Target { get; init; }

    /// <summary>The day in the workspace's zone.</summary>
    public required string Day { get; init; }

    /// <summary>When both sides had been read and were compared.</summary>
    public required DateTimeOffset At { get; init; }

    /// <summary>Who asked for it; null: the night did.</summary>
    public string? By { get; init; }

    /// <summary>Why it could not be compared; null: it was.</summary>
    public string? Why { get; init; }

    public required int RuleNumber { get; init; }

    public required int Records { get; init; }

    public required int RecordsInStep { get; init; }

    public required int Fields { get; init; }

    public required int FieldsInStep { get; init; }

    public required int ChangedThere { get; init; }

    public required int ToSend { get; init; }

    public required int Missing { get; init; }

    public required int Held { get; init; }

    public required int NotComputed { get; init; }

    public required int Mistaken { get; init; }
}

/// <summary>The share of a lane's records that was in step at the last compare of a day; null: there was none.</summary>
internal sealed record ProofDay(string Day, double? Share);

/// <summary>A lane with its newest proof.</summary>
/// <param name="LaneId">The lane.</param>
/// <param name="Lane">What flows.</param>
/// <param name="Source">From where.</param>
/// <param name="Target">To where.</param>
/// <param name="Latest">The newest; null: it was never compared so.</param>
/// <param name="Days">The last 14 days, today's last.</param>
internal sealed record ProvedLane(
    string LaneId,
    string Lane,
    SystemTag Source,
    SystemTag Target,
    LaneProofView? Latest,
    IReadOnlyList<ProofDay> Days
);

/// <summary>All lanes with their proofs.</summary>
/// <param name="At">The time of day at which all are compared by themselves; null: only when somebody asks.</param>
/// <param name="AtWork">Whether they are being compared now.</param>
/// <param name="Lanes">The lanes.</param>
internal sealed record ProofsView(string? At, bool AtWork, IReadOnlyList<ProvedLane> Lanes);

/// <summary>Something that a full compare found.</summary>
internal sealed record ProofLineView
{
    public required StepFinding Finding { get; init; }

    public required string SourceKey { get; init; }

    public required string TargetKey { get; init; }

    public string? Reference { get; init; }

    public string? Caption { get; init; }

    /// <summary>What the field is called; null: it is about the record.</summary>
    public string? Field { get; init; }

    public string? Unit { get; init; }

    public string? There { get; init; }

    public string? Should { get; init; }

    public string? Before { get; init; }

    public string? Words { get; init; }
}

/// <summary>The time of day at which all lanes are compared by themselves.</summary>
/// <param name="At">As <c>HH:mm</c>; null: only when somebody asks.</param>
internal sealed record ProofTime(string? At);
