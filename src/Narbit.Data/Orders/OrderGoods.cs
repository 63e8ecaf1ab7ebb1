using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Narbit.Data.Orders;

/// <summary>What an order takes of an item of the hub's.</summary>
public sealed class OrderGoods
{
    public long StandingId { get; set; }

    /// <summary>The hub's key of the item.</summary>
    public required string Item { get; init; }

    /// <summary>How much of it, in the hub's unit of the item.</summary>
    public long Pieces { get; init; }
}

/// <summary>How <see cref="OrderGoods"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class OrderGoodsStored : IEntityTypeConfiguration<OrderGoods>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<OrderGoods> e) => e.HasKey(g => new { g.StandingId, g.Item });
}
