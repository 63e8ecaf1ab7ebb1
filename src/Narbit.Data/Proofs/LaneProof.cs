using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Data.Runs;

namespace Narbit.Data.Proofs;

/// <summary>How <see cref="ProofRound"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ProofRoundStored : IEntityTypeConfiguration<ProofRound>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ProofRound> e)
    {
        e.HasIndex(r => r.StartedAt);
        e.HasIndex(r => r.Day);
    }
}

/// <summary>What a full compare found of a lane.</summary>
public sealed class LaneProof
{
    public long Id { get; set; }

    public long RoundId { get; set; }

    public required string LaneId { get; set; }

    /// <summary>The day in the workspace's zone, as <c>yyyy-MM-dd</c>.</summary>
    public required string Day { get; set; }

    /// <summary>When both sides had been read and were compared.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Why it could not be compared; null: it was.</summary>
    public KeptReason? Why { get; set; }

    /// <summary>The version of the lane's rule or map by which it was compared.</summary>
    public int RuleNumber { get; set; }

    /// <summary>Records that the lane keeps in step, those that could not be computed too.</summary>
    public int Records { get; set; }

    /// <summary>Records of which every field is as it should be.</summary>
    public int RecordsInStep { get; set; }

    /// <summary>Fields of records that are on both sides and could be computed.</summary>
    public int Fields { get; set; }

    public int FieldsInStep { get; set; }

    /// <summary>Fields that somebody changed at the target.</summary>
    public int ChangedThere { get; set; }

    /// <summary>Fields that differ because the source has changed, or never were in step.</summary>
    public int ToSend { get; set; }

    /// <summary>Records that are not at the target yet, or are to be taken away there.</summary>
    public int Missing { get; set; }

    /// <summary>Fields of which the value looks wrong, or that both sides changed.</summary>
    public int Held { get; set; }

    /// <summary>Records that cannot be computed.</summary>
    public int NotComputed { get; set; }

    /// <summary>Fields of which Narbit took another value for granted than the target had, though nothing had told of a change.</summary>
    public int Mistaken { get; set; }
}

/// <summary>How <see cref="LaneProof"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class LaneProofStored : IEntityTypeConfiguration<LaneProof>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<LaneProof> e)
    {
        e.OwnsOne(p => p.Why);
        e.HasIndex(p => new { p.LaneId, p.Day });
        e.HasIndex(p => p.RoundId);
    }
}

/// <summary>How <see cref="ProofLine"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class ProofLineStored : IEntityTypeConfiguration<ProofLine>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<ProofLine> e)
    {
        e.HasIndex(l => new { l.ProofId, l.Finding });
    }
}
