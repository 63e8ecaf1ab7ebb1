using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Narbit.Data.Orders;

/// <summary>A SKU among the lines of an order, as it was bought.</summary>
public sealed class OrderSku
{
    public long StandingId { get; set; }

    public required string Sku { get; init; }
}

/// <summary>How <see cref="OrderSku"/> is stored: keys, indexes, what is passed over.</summary>
internal sealed class OrderSkuStored : IEntityTypeConfiguration<OrderSku>
{
    /// <inheritdoc/>
    public void Configure(EntityTypeBuilder<OrderSku> e)
    {
        e.HasKey(s => new { s.StandingId, s.Sku });
        e.HasIndex(s => s.Sku);
    }
}
