using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>What the records of a list are, by the words of its path and the names of its fields.</summary>
internal static class KindReading
{
    private static readonly (RecordKind Kind, string[] Words)[] Named =
    [
        (
            RecordKind.StockLevel,
            ["stock", "stocks", "inventory", "levels", "bestand", "bestande", "lagerbestand", "lagerbestande", "voorraad", "existencias"]
        ),
        (
            RecordKind.Customer,
            ["customers", "customer", "kunden", "kunde", "clients", "client", "contacts", "klanten", "clientes", "buyers"]
        ),
        (
            RecordKind.Order,
            [
                "orders",
                "order",
                "purchases",
                "bestellungen",
                "auftrage",
                "belege",
                "commandes",
                "commande",
                "pedidos",
                "sales",
                "documents",
                "receipts",
                "bons",
                "tickets",
            ]
        ),
        (
            RecordKind.Item,
            [
                "items",
                "item",
                "products",
                "product",
                "articles",
                "article",
                "artikel",
                "produits",
                "produit",
                "produkte",
                "variants",
                "offers",
                "wares",
                "goods",
                "catalogue",
                "catalog",
                "listings",
                "articulos",
                "producten",
            ]
        ),
    ];

    /// <summary>Whether a path is called like records of a kind.</summary>
    public static bool IsNamed(string path) => NameWords.Of(path) is var words && Named.Any(n => n.Words.Any(words.Contains));

    /// <summary>The kind, and why.</summary>
    /// <param name="path">The path of the list, or the name of its file.</param>
    /// <param name="columns">Its fields.</param>
    /// <param name="lists">The names of the lists within its entries.</param>
    public static (RecordKind Kind, string Why) Of(string path, IReadOnlyList<SampleColumn> columns, IReadOnlyList<string> lists)
    {
        var words = NameWords.Of(path);
        foreach (var (kind, names) in Named)
            if (words.FirstOrDefault(w => names.Contains(w)) is { } word)
                return (kind, $"“{word}” in its name: {Words(kind)}");
        var stock = FieldProposals.RolesAmong(columns, RecordKind.StockLevel);
        if (stock.Contains(FieldRole.Location) && stock.Contains(FieldRole.OnHand))
            return (RecordKind.StockLevel, "a quantity at a place: stock levels");
        var order = FieldProposals.RolesAmong(columns, RecordKind.Order);
        if (order.Contains(FieldRole.Total) && (order.Contains(FieldRole.PlacedAt) || lists.Count > 0))
            return (RecordKind.Order, "a total and a date or lines: orders");
        return order.Contains(FieldRole.Email)
            ? (RecordKind.Customer, "a mail address: customers")
            : (RecordKind.Item, "nothing speaks for another kind: items");
    }

    /// <summary>Records of a kind, in words.</summary>
    public static string Words(RecordKind kind) => kind.Many;
}
