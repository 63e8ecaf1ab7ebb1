using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Records;

namespace Narbit.Data.Orders;

/// <summary>
/// What an order, its buyer or a refund of it became at the other side, once and for all. The database holds one for each: the same
/// order cannot become two documents.
/// </summary>
public sealed class Counterpart
{
    public long Id { get; set; }

    public RecordKind Kind { get; set; }

    public required string SourceId { get; set; }

    /// <summary>The order's key; for a buyer what he is known by, for a refund the order's key and its own.</summary>
    public required string SourceKey { get; set; }

    public required string TargetId { get; set; }

    public required string TargetKey { get; set; }

    /// <summary>The run that made it.</summary>
    public long RunId { get; set; }

    public DateTimeOffset At { get; set; }
}

/// <summary>How <see cref="Counterpart"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class CounterpartStored : IEntityTypeConfiguration<Counterpart>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<Counterpart> e)
    {
        e.HasIndex(c => new
            {
                c.Kind,
                c.SourceId,
                c.SourceKey,
                c.TargetId,
            })
            .IsUnique();
        e.HasIndex(c => new
        {
            c.Kind,
            c.TargetId,
            c.TargetKey,
        });
    }
}

/// <summary>Where an order stands.</summary>
[System.Text.Json.Serialization.JsonConverter(typeof(Core.CamelCaseEnum<OrderStage>))]
public enum OrderStage
{
    /// <summary>It can go to the hub, and has not yet.</summary>
    New,

    /// <summary>It is looked at again later, by itself.</summary>
    Waiting,

    /// <summary>A person decides.</summary>
    Held,

    /// <summary>The hub has it.</summary>
    Taken,

    /// <summary>The hub has it, and the store knows.</summary>
    Acknowledged,

    /// <summary>It was sent, and the store knows.</summary>
    Shipped,

    /// <summary>It is none of the hub's.</summary>
    Skipped,
}

/// <summary>Where an order of a lane stands, as it was last computed.</summary>
public sealed class OrderStanding
{
    public long Id { get; set; }

    public required string LaneId { get; set; }

    public required string SourceKey { get; set; }

    public string? Number { get; set; }

    public DateTimeOffset PlacedAt { get; set; }

    /// <summary>Whose it is, in words.</summary>
    public string? Buyer { get; set; }

    public string? Email { get; set; }

    /// <summary>The SKUs of its lines, between blanks, one at each end.</summary>
    public string Skus { get; set; } = "";

    /// <summary>
    /// What it takes of the hub's items, as <c>item×pieces</c> between blanks; empty: nothing, or nothing that is known.
    /// </summary>
    public string Goods { get; set; } = "";

    public decimal Total { get; set; }

    public string? Currency { get; set; }

    public OrderStage Stage { get; set; }

    /// <summary>The codes of its causes, between blanks, one at each end; empty: there is none.</summary>
    public string Causes { get; set; } = "";

    /// <summary>The causes in words; null: there is none.</summary>
    public string? Words { get; set; }

    /// <summary>Each cause with what it is about and its words, JSON, see the engine's <c>CauseOfOrder</c>; empty: there is none.</summary>
    public string Details { get; set; } = "";

    /// <summary>How much was given back.</summary>
    public decimal Refunded { get; set; }

    /// <summary>The hub's document; null: there is none.</summary>
    public string? HubKey { get; set; }

    /// <summary>Whether the rule's own item stands in for one that is not known.</summary>
    public bool UsesDefaultItem { get; set; }

    /// <summary>The lines for which it stands in, as JSON, see the engine's <c>DefaultItemLine</c>; empty: none.</summary>
    public string DefaultItemLines { get; set; } = "";

    /// <summary>Whether the hub has sent something of it without a number by which the buyer could follow it.</summary>
    public bool Untracked { get; set; }

    public DateTimeOffset ComputedAt { get; set; }

    /// <summary>Whether another standing of the same order says the same, whenever it was computed.</summary>
    public bool SaysTheSameAs(OrderStanding other) =>
        (Stage, Causes, Words, HubKey, UsesDefaultItem) == (other.Stage, other.Causes, other.Words, other.HubKey, other.UsesDefaultItem)
        && (Number, PlacedAt, Buyer, Email, Currency) == (other.Number, other.PlacedAt, other.Buyer, other.Email, other.Currency)
        && (Total, Refunded, Skus, Goods) == (other.Total, other.Refunded, other.Skus, other.Goods)
        && (Details, DefaultItemLines, Untracked) == (other.Details, other.DefaultItemLines, other.Untracked);
}

/// <summary>How <see cref="OrderStanding"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class OrderStandingStored : IEntityTypeConfiguration<OrderStanding>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<OrderStanding> e)
    {
        e.HasIndex(o => new { o.LaneId, o.SourceKey }).IsUnique();
        e.HasIndex(o => new { o.Stage, o.PlacedAt });
        e.HasIndex(o => o.PlacedAt);
        // All that the numbers above the list are made of, so that they are counted without the orders being read.
        e.HasIndex(o => new
        {
            o.Stage,
            o.Currency,
            o.Total,
            o.Refunded,
            o.UsesDefaultItem,
        });
        e.HasIndex(o => o.Number);
        // Amounts sort and compare as numbers; they are shown, not reckoned with.
        e.Property(o => o.Total).HasConversion<double>();
        e.Property(o => o.Refunded).HasConversion<double>();
    }
}

/// <summary>What a person decided about an order, or about all orders of a lane that wait for the same.</summary>
public sealed class OrderDecision
{
    public long Id { get; set; }

    public required string LaneId { get; set; }

    /// <summary>The order; null: all of the lane's.</summary>
    public string? OrderKey { get; set; }

    public Core.Orders.OrderChoiceKind Kind { get; set; }

    /// <summary>What it is about: a SKU, a method; null: the order as a whole.</summary>
    public string? Subject { get; set; }

    /// <summary>What was chosen.</summary>
    public string? Value { get; set; }

    public required string By { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>When it was taken back; null: it holds.</summary>
    public DateTimeOffset? UndoneAt { get; set; }

    /// <summary>The act of the mismatch desk that it is a part of; null: none.</summary>
    public long? DeskActId { get; set; }
}

/// <summary>How <see cref="OrderDecision"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class OrderDecisionStored : IEntityTypeConfiguration<OrderDecision>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<OrderDecision> e)
    {
        e.HasIndex(d => new { d.LaneId, d.OrderKey });
        e.HasIndex(d => d.DeskActId).HasFilter("\"DeskActId\" IS NOT NULL");
        e.HasIndex(d => d.At);
    }
}
