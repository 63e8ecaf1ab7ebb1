using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core.Orders;

namespace Narbit.Data.Orders;

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

    /// <summary>The SKUs of its lines, each once.</summary>
    public List<OrderSku> Skus { get; init; } = [];

    /// <summary>What it takes of the hub's items; none: nothing, or nothing that is known.</summary>
    public List<OrderGoods> Goods { get; init; } = [];

    /// <summary>Why it stands there, the weightiest first; none: there is no cause.</summary>
    public List<StandingCause> Causes { get; init; } = [];

    /// <summary>Why it stands there, in words; null: there is no cause.</summary>
    public string? Words => Causes.Count == 0 ? null : OrderWords.Of(Causes.OrderBy(c => c.Position).Select(c => c.Cause));

    public decimal Total { get; set; }

    public string? Currency { get; set; }

    public OrderStage Stage { get; set; }

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

    /// <summary>
    /// By which it is seen whether a standing that is computed anew says the same; empty: somebody has changed it since it was computed.
    /// </summary>
    public string Fingerprint { get; set; } = "";

    /// <summary>The fingerprint of all that it says, whenever it was computed.</summary>
    public string Reckoned()
    {
        // No value holds the signs between them.
        var said = new StringBuilder();
        void Say(object? value) => said.Append(CultureInfo.InvariantCulture, $"{value}\u001f");
        Say(Stage);
        Say(HubKey);
        Say(Number);
        Say(PlacedAt.UtcTicks);
        Say(Buyer);
        Say(Email);
        Say(Currency);
        Say(Total / 1.000000000000m);
        Say(Refunded / 1.000000000000m);
        Say(UsesDefaultItem);
        Say(DefaultItemLines);
        Say(Untracked);
        foreach (var sku in Skus)
            Say(sku.Sku);
        Say(null);
        foreach (var goods in Goods)
            Say($"{goods.Item}\u001e{goods.Pieces}");
        Say(null);
        foreach (var cause in Causes)
            Say($"{cause.Code}\u001e{cause.Outcome}\u001e{cause.Subject}\u001e{cause.Line}\u001e{cause.Values}");
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(said.ToString())).AsSpan(0, 16));
    }
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
        e.HasMany(o => o.Skus).WithOne().HasForeignKey(s => s.StandingId);
        e.HasMany(o => o.Goods).WithOne().HasForeignKey(g => g.StandingId);
        e.HasMany(o => o.Causes).WithOne().HasForeignKey(c => c.StandingId);
        e.Navigation(o => o.Causes).AutoInclude();
        e.Ignore(o => o.Words);
    }
}
