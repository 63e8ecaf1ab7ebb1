using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Orders;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What the hub changed in a document, in the store's terms: the quantities of its lines, and where it is sent.</summary>
internal static class HubChanges
{
    /// <summary>The store's lists as the hub wants them; those that are as they should be already are left out.</summary>
    public static RecordChildren For(LaneSides sides, OrderPlace place, OrderRecord hub, Order order)
    {
        var lists = new HubPaper.Lists(sides.Source);
        if (Lines(sides, hub, order) is { } lines)
            lists.Add(ListRole.Lines, lines);
        if (Address(sides, hub) is { } address)
            lists.Add(ListRole.ShipTo, [address]);
        return lists.Made.Without(list => Same(sides, place, lists.Made, list));
    }

    private static bool Same(LaneSides sides, OrderPlace place, RecordChildren made, string list) =>
        made.SameAs(place.Store.Children, [.. sides.Source.Children.Where(c => c.Name == list)]);

    // Each line of the store with the hub's quantity; null where the hub has lines that the store does not know, or several for one.
    private static List<Dictionary<FieldRole, string>>? Lines(LaneSides sides, OrderRecord hub, Order order)
    {
        if (sides.Target.Children.FirstOrDefault(c => c.Role == ListRole.Lines) is not { } list)
            return null;
        var quantities = new Dictionary<string, decimal>(StringComparer.Ordinal);
        foreach (var entry in hub.Children[list.Name])
        {
            if (list.Fields.Text(entry, FieldRole.LineKind) is { } kind && kind != "goods")
                continue;
            if (list.Fields.Text(entry, FieldRole.Line) is not { } line || order.Lines.All(l => l.Id != line))
                return null;
            if (!quantities.TryAdd(line, list.Fields.Number(entry, FieldRole.Quantity) ?? 0))
                return null;
        }

        return [.. order.Lines.Where(l => quantities.GetValueOrDefault(l.Id) > 0).Select(l => Line(l, quantities[l.Id]))];
    }

    private static Dictionary<FieldRole, string> Line(OrderLine line, decimal quantity) =>
        new() { [FieldRole.Line] = line.Id, [FieldRole.Quantity] = Numbers.Plain(quantity) };

    private static Dictionary<FieldRole, string>? Address(LaneSides sides, OrderRecord hub)
    {
        if (sides.Target.Children.FirstOrDefault(c => c.Role == ListRole.ShipTo) is not { } list)
            return null;
        if (hub.Children[list.Name] is not [var entry, ..])
            return null;
        FieldRole[] roles =
        [
            FieldRole.Title,
            FieldRole.Company,
            FieldRole.Street,
            FieldRole.City,
            FieldRole.Postcode,
            FieldRole.Country,
            FieldRole.Phone,
        ];
        return roles
            .Select(role => (Role: role, Value: list.Fields.Text(entry, role)))
            .Where(v => v.Value is not null)
            .ToDictionary(v => v.Role, v => v.Value!);
    }
}
