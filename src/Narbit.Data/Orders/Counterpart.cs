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
