using Narbit.Adapters.Rest;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>What a list within records is taken for, e.g. an order's lines.</summary>
internal static class ChildrenReading
{
    private static readonly (ListRole Role, string[] Words)[] Named =
    [
        (ListRole.Lines, ["lines", "line", "items", "positions", "positionen", "lignes", "articles", "rows"]),
        (ListRole.Addresses, ["addresses", "adressen", "adresses"]),
        (ListRole.Payments, ["payments", "zahlungen", "paiements", "transactions"]),
        (ListRole.Shipments, ["shipments", "deliveries", "lieferungen", "livraisons", "parcels", "fulfilments"]),
        (ListRole.Refunds, ["refunds", "returns", "credits", "remboursements"]),
        (ListRole.Discounts, ["discounts", "rabatte", "remises"]),
        (ListRole.Fees, ["fees", "gebuhren", "frais"]),
        (ListRole.Shipping, ["shipping"]),
    ];

    // What the fields of such lists mean, by the last word of their names.
    private static readonly Dictionary<ListRole, (FieldRole Role, string[] Words)[]> Roles = new()
    {
        [ListRole.Lines] =
        [
            (FieldRole.Line, ["id", "line"]),
            (FieldRole.Sku, ["sku", "code", "article", "artikel", "artikelnummer", "reference", "articulo"]),
            (FieldRole.Title, ["title", "name", "bezeichnung", "designation", "libelle"]),
            (FieldRole.Quantity, ["quantity", "qty", "pcs", "pieces", "menge", "anzahl", "quantite"]),
            (FieldRole.Price, ["price", "preis", "prix"]),
            (FieldRole.Discount, ["discount", "rabatt", "remise"]),
            (FieldRole.TaxRate, ["rate", "steuersatz", "taux"]),
        ],
        [ListRole.Addresses] =
        [
            (FieldRole.Title, ["name", "nom"]),
            (FieldRole.Company, ["company", "firma", "societe"]),
            (FieldRole.Street, ["street", "strasse", "rue", "line1"]),
            (FieldRole.City, ["city", "ort", "ville", "town"]),
            (FieldRole.Postcode, ["postcode", "zip", "plz", "postal"]),
            (FieldRole.Country, ["country", "land", "pays"]),
            (FieldRole.Phone, ["phone", "telefon", "telephone"]),
        ],
        [ListRole.Payments] = [(FieldRole.Method, ["method", "type", "art", "mode"]), (FieldRole.Amount, ["amount", "betrag", "montant"])],
        [ListRole.Shipments] =
        [
            (FieldRole.Key, ["id", "key"]),
            (FieldRole.At, ["at", "date", "datum"]),
            (FieldRole.Carrier, ["carrier", "transporteur"]),
            (FieldRole.Tracking, ["tracking", "number", "sendungsnummer"]),
        ],
    };

    /// <summary>The list as it would be described.</summary>
    public static RestChildren Of(SampleList list)
    {
        var name = list.Path.Split('.')[^1];
        var words = NameWords.Of(name);
        var role = Named.FirstOrDefault(n => words.Any(w => n.Words.Contains(w))).Role;
        var columns = SampleTree.Columns([.. list.Entries.Take(SampleTree.MostEntries)]);
        var taken = new HashSet<FieldRole>();
        return new RestChildren
        {
            Name = string.Concat(words.Select((w, i) => i == 0 ? w : char.ToUpperInvariant(w[0]) + w[1..])),
            Label = NameWords.Label(name),
            Role = role,
            Path = list.Path,
            Fields =
            [
                .. FieldProposals.Of(columns, RecordKind.Payment, null).Select(f => WithRole(ResourceReading.Field(f, null), role, taken)),
            ],
        };
    }

    /// <summary>What a field of such a list means by the words of its name; each meaning is given once.</summary>
    public static FieldRole Role(ListRole list, IReadOnlyList<string> words, HashSet<FieldRole> taken)
    {
        var found = Roles.GetValueOrDefault(list)?.FirstOrDefault(r => words.Any(w => r.Words.Contains(w))).Role ?? FieldRole.None;
        return found != FieldRole.None && taken.Add(found) ? found : FieldRole.None;
    }

    private static RestField WithRole(RestField field, ListRole list, HashSet<FieldRole> taken) =>
        Role(list, NameWords.Of(field.Path!.Split('.')[^1]), taken) is var role and not FieldRole.None ? field with { Role = role } : field;
}
