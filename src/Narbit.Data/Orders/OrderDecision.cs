using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Narbit.Data.Orders;

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
