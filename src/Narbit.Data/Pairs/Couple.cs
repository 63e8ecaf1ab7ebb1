using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Pairs;

/// <summary>The pairing of one record kind between the hub and another system.</summary>
public sealed class Couple
{
    public long Id { get; set; }

    public required string HubId { get; set; }

    public required string OtherId { get; set; }

    public required RecordKind Kind { get; set; }

    /// <summary>Whether pairing links certain pairs by itself, because the other system was taken over or published to.</summary>
    public bool AcceptsCertain { get; set; }

    /// <summary>How the first stock-taking was done; null: not yet.</summary>
    public StockTakingWay? Way { get; set; }

    /// <summary>When a stock-taking that is at work was started; null: none is.</summary>
    public DateTimeOffset? TakingSince { get; set; }

    public string? HabitBefore { get; set; }

    public string? HabitAfter { get; set; }

    public DateTimeOffset? PairedAt { get; set; }
}

/// <summary>How <see cref="Couple"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class CoupleStored : IEntityTypeConfiguration<Couple>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Couple> e)
    {
        e.HasIndex(c => new
            {
                c.HubId,
                c.OtherId,
                c.Kind,
            })
            .IsUnique();
    }
}

/// <summary>How <see cref="PairLink"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PairLinkStored : IEntityTypeConfiguration<PairLink>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PairLink> e)
    {
        e.HasIndex(l => new { l.CoupleId, l.HubKey });
        e.HasIndex(l => new
            {
                l.CoupleId,
                l.OtherKey,
                l.HubKey,
            })
            .IsUnique();
        // A listing hangs on one item at most, whoever pairs; only a kit stands for several.
        e.HasIndex(l => new { l.CoupleId, l.OtherKey }).HasFilter("\"IsKit\" = 0").IsUnique();
    }
}

/// <summary>How <see cref="SetAside"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class SetAsideStored : IEntityTypeConfiguration<SetAside>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<SetAside> e)
    {
        e.HasIndex(a => new { a.CoupleId, a.HubKey }).HasFilter("\"HubKey\" IS NOT NULL").IsUnique();
        e.HasIndex(a => new { a.CoupleId, a.OtherKey }).HasFilter("\"OtherKey\" IS NOT NULL").IsUnique();
    }
}

/// <summary>How <see cref="PairProposal"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PairProposalStored : IEntityTypeConfiguration<PairProposal>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PairProposal> e)
    {
        e.HasIndex(p => new
        {
            p.CoupleId,
            p.Verdict,
            p.Reference,
        });
        e.HasIndex(p => new { p.CoupleId, p.HubKey });
        e.HasIndex(p => new { p.CoupleId, p.OtherKey });
    }
}

/// <summary>How <see cref="PairDecision"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PairDecisionStored : IEntityTypeConfiguration<PairDecision>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PairDecision> e)
    {
        e.HasIndex(d => new { d.CoupleId, d.State });
        e.HasIndex(d => d.BatchId);
        e.HasIndex(d => d.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
        e.HasIndex(d => d.At);
        e.HasIndex(d => new { d.CoupleId, d.ThrownAt }).HasFilter("\"ThrownAt\" IS NOT NULL");
        // Two people cannot decide the same record at the same time: the database says no.
        e.HasIndex(d => new { d.CoupleId, d.HubClaim }).HasFilter("\"State\" = 'Waiting' AND \"HubClaim\" IS NOT NULL").IsUnique();
        e.HasIndex(d => new { d.CoupleId, d.OtherClaim }).HasFilter("\"State\" = 'Waiting' AND \"OtherClaim\" IS NOT NULL").IsUnique();
    }
}

/// <summary>How <see cref="PairBatch"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class PairBatchStored : IEntityTypeConfiguration<PairBatch>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<PairBatch> e)
    {
        e.HasIndex(b => b.CoupleId);
        e.HasIndex(b => b.At);
    }
}
