using System.Text.Json;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>A line of an order for which the rule's default item stands in.</summary>
/// <param name="Sku">The SKU that was bought; empty: the line has none.</param>
/// <param name="Title">What it was sold as.</param>
/// <param name="Quantity">In pieces, at least 1.</param>
/// <param name="Amount">Price times quantity less the line's discount, as the store reckons.</param>
internal sealed record DefaultItemLine(string Sku, string? Title, long Quantity, decimal Amount)
{
    /// <summary>The lines of an order for which it stands in: at the hub, where the order was posted, else by the rule.</summary>
    internal static IReadOnlyList<DefaultItemLine> Of(OpenLane lane, Order order, OrderPlace place)
    {
        if (lane.Document is not OrderPolicy { Rule: { UseItem: { } item } rule })
            return [];
        var known = place.Known.Applied(place.Choices);
        if (place.Hub is { } document)
            return Lines(
                order.Lines.Where(Booked(lane.Sides.Target, document, item)).Where(l => known.Items.GetValueOrDefault(SkuOf(l)) != item)
            );
        return rule.UnknownItem == UnknownItem.Use
            ? Lines(order.Lines.Where(l => !known.Items.ContainsKey(SkuOf(l)) && !known.Kits.ContainsKey(SkuOf(l))))
            : [];
    }

    /// <summary>The form in which they are kept.</summary>
    internal static string Stored(IReadOnlyList<DefaultItemLine> lines) => lines.Count == 0 ? "" : JsonSerializer.Serialize(lines);

    /// <summary>Reads what <see cref="Stored"/> wrote.</summary>
    public static IReadOnlyList<DefaultItemLine> Read(string stored) =>
        stored.Length == 0 ? [] : JsonSerializer.Deserialize<List<DefaultItemLine>>(stored) ?? [];

    private static string SkuOf(OrderLine line) => line.Sku ?? "";

    private static List<DefaultItemLine> Lines(IEnumerable<OrderLine> lines) =>
        [.. lines.Select(l => new DefaultItemLine(SkuOf(l), l.Title, l.Quantity, l.Price * l.Quantity - l.Discount))];

    // The hub's own lines say what was booked, whatever the rule says by now.
    private static Func<OrderLine, bool> Booked(FieldSet hub, OrderRecord document, string item)
    {
        if (hub.Children.FirstOrDefault(c => c.Role == ListRole.Lines) is not { } list)
            return _ => false;
        var booked = document
            .Children[list.Name]
            .Where(e => list.Fields.Text(e, FieldRole.Item) == item)
            .Select(e => list.Fields.Text(e, FieldRole.Line))
            .ToHashSet(StringComparer.Ordinal);
        return line => booked.Contains(line.Id);
    }
}
