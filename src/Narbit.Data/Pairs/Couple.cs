using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Data.Pairs;

/// <summary>How the pairing of two systems is begun.</summary>
[JsonConverter(typeof(CamelCaseEnum<StockTakingWay>))]
public enum StockTakingWay
{
    /// <summary>Nothing is paired; a person chooses record by record.</summary>
    ByHand,

    /// <summary>What the store has is taken over: certain pairs are accepted, and what the store does not have is set aside.</summary>
    TakeOver,

    /// <summary>
    /// What the hub has is published: certain pairs are accepted, and what the store does not have is to be created there.
    /// </summary>
    Publish,
}

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

/// <summary>A pair in force: this record there is that record here. A kit has several.</summary>
public sealed class PairLink
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public required string HubKey { get; set; }

    public required string OtherKey { get; set; }

    /// <summary>How many of the hub's item one of the listing stands for.</summary>
    public decimal Quantity { get; set; } = 1;

    public bool IsKit { get; set; }

    /// <summary>The decision it comes from.</summary>
    public long DecisionId { get; set; }
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

/// <summary>A record that is meant to have no partner for now.</summary>
public sealed class SetAside
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    public required string Reason { get; set; }

    /// <summary>Whether it is to be created on the other side by an item lane.</summary>
    public bool ToCreate { get; set; }

    public long DecisionId { get; set; }
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

/// <summary>What pairing makes of the records that are neither linked nor set aside.</summary>
public sealed class PairProposal
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    public required Verdict Verdict { get; set; }

    public double Confidence { get; set; }

    /// <summary>The reasons, JSON.</summary>
    public required string Evidence { get; set; }

    /// <summary>Other records worth a look, JSON.</summary>
    public required string Candidates { get; set; }

    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; set; }

    public string? Caption { get; set; }

    /// <summary>What keeps it from being paired well, words between spaces; or empty.</summary>
    public string Causes { get; set; } = "";
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

[JsonConverter(typeof(CamelCaseEnum<DecisionAct>))]
public enum DecisionAct
{
    /// <summary>The two are one.</summary>
    Accept,

    /// <summary>The listing shares an item that has a listing already.</summary>
    Share,

    /// <summary>The listing stands for several items.</summary>
    Kit,

    /// <summary>The record is meant to have no partner.</summary>
    SetAside,

    /// <summary>The record is to be created on the other side.</summary>
    Create,

    /// <summary>A pair, a kit or a set-aside is taken back.</summary>
    Unpair,
}

[JsonConverter(typeof(CamelCaseEnum<DecisionState>))]
public enum DecisionState
{
    Waiting,
    Committed,
    Undone,
    ThrownAway,
}

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

/// <summary>Where a batch of decisions comes from.</summary>
[JsonConverter(typeof(CamelCaseEnum<BatchOrigin>))]
public enum BatchOrigin
{
    /// <summary>A person put it into force.</summary>
    Person,

    /// <summary>Pairing linked by itself what is certain.</summary>
    Pairing,

    /// <summary>A first stock-taking.</summary>
    StockTaking,
}

/// <summary>Decisions that were put into force together, and can be taken back together.</summary>
public sealed class PairBatch
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public BatchOrigin Origin { get; set; }

    public required string By { get; set; }

    public required DateTimeOffset At { get; set; }

    public string? Note { get; set; }

    public int Decisions { get; set; }

    public string? UndoneBy { get; set; }

    public DateTimeOffset? UndoneAt { get; set; }

    /// <summary>For a batch of pairing's own that was undone: how the stock-taking was done until then.</summary>
    public StockTakingWay? WayBefore { get; set; }
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
