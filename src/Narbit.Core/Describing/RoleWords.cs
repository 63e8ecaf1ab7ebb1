using Narbit.Core.Records;

namespace Narbit.Core.Describing;

/// <summary>
/// The words by which systems name what a field means, in English, German, French, Spanish and Dutch. A phrase of several words counts
/// where all of them stand in the name, in any order.
/// </summary>
internal static class RoleWords
{
    private static readonly FieldRole[] OfItems =
    [
        FieldRole.Sku,
        FieldRole.Barcode,
        FieldRole.Title,
        FieldRole.Description,
        FieldRole.Option,
        FieldRole.Price,
        FieldRole.SalePrice,
        FieldRole.SaleFrom,
        FieldRole.SaleTo,
        FieldRole.CompareAt,
        FieldRole.Cost,
        FieldRole.TaxCode,
        FieldRole.TaxRate,
        FieldRole.OnHand,
        FieldRole.Tracked,
        FieldRole.Published,
        FieldRole.Weight,
        FieldRole.Category,
        FieldRole.PartNumber,
        FieldRole.Brand,
        FieldRole.Image,
    ];

    private static readonly FieldRole[] OfStock =
    [
        FieldRole.Item,
        FieldRole.Location,
        FieldRole.OnHand,
        FieldRole.Allocated,
        FieldRole.Incoming,
    ];

    private static readonly FieldRole[] OfCustomers =
    [
        FieldRole.Title,
        FieldRole.Email,
        FieldRole.Phone,
        FieldRole.Company,
        FieldRole.Account,
        FieldRole.Street,
        FieldRole.Postcode,
        FieldRole.City,
        FieldRole.Country,
    ];

    private static readonly FieldRole[] OfOrders =
    [
        FieldRole.Number,
        FieldRole.PlacedAt,
        FieldRole.State,
        FieldRole.Currency,
        FieldRole.TaxIncluded,
        FieldRole.PaymentState,
        FieldRole.Method,
        FieldRole.Email,
        FieldRole.Phone,
        FieldRole.Account,
        FieldRole.Total,
        FieldRole.TaxTotal,
        FieldRole.Comment,
    ];

    private static readonly Dictionary<FieldRole, string[][]> Phrases = new()
    {
        [FieldRole.Sku] = Words(
            "sku, stock code, item code, item no, item number, article number, article no, article code, product code, product no, "
                + "artikelnummer, artikelnr, artnr, art nr, artikel nr, artikelcode, reference, ref, code article, "
                + "code produit, referencia, codigo, "
                + "codigo articulo, code, number, no"
        ),
        [FieldRole.Barcode] = Words(
            "barcode, bar code, ean, ean13, ean code, gtin, gtin13, upc, code barres, code barre, codebarres, strichcode, codigo barras, "
                + "streepjescode"
        ),
        [FieldRole.Title] = Words(
            "title, name, designation, bezeichnung, artikelbezeichnung, kurztext, libelle, titre, titel, nom, "
                + "naam, nombre, titulo, caption, "
                + "display name, product name, artikelname, produktname, nom produit, intitule, label, headline"
        ),
        [FieldRole.Description] = Words(
            "description, beschreibung, langtext, descriptif, descripcion, omschrijving, body, body html, "
                + "long text, details, text, texte long"
        ),
        [FieldRole.Option] = Words(
            "option, variant, variante, size, colour, color, groesse, grosse, farbe, taille, couleur, coloris, "
                + "trait, talla, maat, kleur, "
                + "ausfuehrung, ausfuhrung, finish, glaze"
        ),
        [FieldRole.Price] = Words(
            "price, preis, prix, precio, prijs, retail price, unit price, net price, gross price, list price, "
                + "selling price, verkaufspreis, "
                + "vk, vkpreis, prix vente, prix public, precio venta, verkoopprijs, bruttopreis, nettopreis, listenpreis"
        ),
        [FieldRole.SalePrice] = Words(
            "sale price, special price, promo price, offer price, reduced price, discount price, aktionspreis, "
                + "angebotspreis, sonderpreis, "
                + "prix promo, prix promotionnel, prix solde, precio oferta, actieprijs"
        ),
        [FieldRole.SaleFrom] = Words("sale from, sale start, promo from, promo start, aktion von, aktion ab, promo debut, oferta desde"),
        [FieldRole.SaleTo] = Words("sale to, sale end, sale until, promo to, promo end, aktion bis, promo fin, oferta hasta"),
        [FieldRole.CompareAt] = Words(
            "compare price, compare at price, rrp, msrp, uvp, was price, old price, regular price, prix barre, recommended price, "
                + "strike price, ancien prix, adviesprijs"
        ),
        [FieldRole.Cost] = Words(
            "cost, unit cost, cost price, purchase price, buying price, einkaufspreis, ek, ekpreis, prix achat, "
                + "prix revient, cout, coste, "
                + "precio compra, inkoopprijs, einstandspreis"
        ),
        [FieldRole.TaxCode] = Words(
            "tax code, vat code, tax class, steuercode, steuerschlussel, steuerschluessel, code tva, mwst code, "
                + "vat, tax, tva, iva, btw, mwst"
        ),
        [FieldRole.TaxRate] = Words(
            "tax rate, vat rate, tax percent, vat percent, steuersatz, mwst satz, mwstsatz, taux tva, tva taux, "
                + "vat, mwst, ust, tva, iva, btw, tax"
        ),
        [FieldRole.OnHand] = Words(
            "on hand, onhand, stock, in stock, stock level, stock quantity, quantity, qty, available, "
                + "available quantity, inventory, bestand, "
                + "lagerbestand, menge, verfugbar, verfuegbar, quantite, disponible, existencias, cantidad, voorraad, aantal, qte"
        ),
        [FieldRole.Allocated] = Words("allocated, reserved, committed, reserviert, reserve, reservado, gereserveerd, promised"),
        [FieldRole.Incoming] = Words(
            "incoming, on order, expected, bestellt, zulauf, en commande, attendu, pedido, in bestelling, inbound"
        ),
        [FieldRole.Location] = Words(
            "location, warehouse, site, lager, lagerort, standort, depot, entrepot, emplacement, magasin, "
                + "branch, filiale, almacen, magazijn, "
                + "store, place, shop"
        ),
        [FieldRole.Item] = Words(
            "item, item id, item no, item number, item code, article, article id, article no, article number, product, product id, "
                + "product code, variant id, artikel, artikelnummer, artikelnr, artikel id, artnr, produit, produit id, code article, "
                + "reference, ref, articulo, sku"
        ),
        [FieldRole.Tracked] = Words("tracked, track stock, manage stock, track inventory, stock managed, bestandsfuhrung, suivi stock"),
        [FieldRole.Published] = Words(
            "published, active, online, visible, enabled, live, shown, sichtbar, aktiv, actif, publie, "
                + "visible web, activo, actief, in shop"
        ),
        [FieldRole.Weight] = Words(
            "weight, gewicht, poids, peso, mass, masse, weight grams, weight g, weight kg, gewicht g, gewicht kg, poids g"
        ),
        [FieldRole.Category] = Words(
            "category, kategorie, categorie, warengruppe, produktgruppe, product type, famille, rayon, "
                + "collection, categoria, item group, "
                + "product group, department"
        ),
        [FieldRole.PartNumber] = Words(
            "mpn, part number, manufacturer number, manufacturer code, maker no, herstellernummer, herstellernr, ref fabricant, "
                + "reference fabricant, supplier code, supplier number, lieferantennummer"
        ),
        [FieldRole.Brand] = Words("brand, manufacturer, maker, vendor, hersteller, marke, marque, fabricant, fabrikant, marca, merk"),
        [FieldRole.Image] = Words(
            "image, images, picture, pictures, photo, photos, bild, bilder, foto, imagen, afbeelding, image url, picture url"
        ),
        [FieldRole.Email] = Words("email, mail, e mail, courriel, correo"),
        [FieldRole.Phone] = Words("phone, telephone, tel, telefon, telefoon, telefono, mobile"),
        [FieldRole.Company] = Words("company, firma, societe, entreprise, empresa, bedrijf, organisation"),
        [FieldRole.Account] = Words(
            "account, account no, customer number, customer no, kundennummer, kundennr, kdnr, numero client, code client"
        ),
        [FieldRole.Street] = Words("street, address, address1, line1, strasse, adresse, rue, calle, straat"),
        [FieldRole.Postcode] = Words("postcode, post code, zip, zipcode, plz, postleitzahl, code postal, codigo postal"),
        [FieldRole.City] = Words("city, town, ort, stadt, ville, ciudad, stad, plaats"),
        [FieldRole.Country] = Words("country, country code, land, pays, pais, landcode"),
        [FieldRole.Number] = Words(
            "number, no, order number, order no, order id, reference, bestellnummer, auftragsnummer, "
                + "belegnummer, numero, numero commande, code"
        ),
        [FieldRole.PlacedAt] = Words(
            "placed at, placed, ordered at, order date, created at, created, date, bestelldatum, datum, date commande, fecha"
        ),
        [FieldRole.State] = Words("state, status, order status, statut, etat, estado, zustand"),
        [FieldRole.Currency] = Words("currency, currency code, wahrung, waehrung, devise, moneda, valuta"),
        [FieldRole.TaxIncluded] = Words("tax included, prices include tax, gross, brutto, ttc, includes tax"),
        [FieldRole.PaymentState] = Words(
            "payment state, payment status, paid, financial status, zahlungsstatus, statut paiement, " + "bezahlt"
        ),
        [FieldRole.Method] = Words("payment method, payment, zahlungsart, mode paiement, method"),
        [FieldRole.Total] = Words(
            "total, grand total, total amount, order total, total price, gesamtbetrag, summe, montant total, total ttc, importe"
        ),
        [FieldRole.TaxTotal] = Words("tax total, total tax, tax amount, vat amount, steuerbetrag, montant tva, total tva"),
        [FieldRole.Comment] = Words(
            "comment, note, notes, remark, bemerkung, kommentar, commentaire, customer note, message, " + "observacion"
        ),
    };

    // The words of a role's phrases, and its phrases written together: a name with none of them need not be looked at.
    private static readonly Dictionary<FieldRole, HashSet<string>> Single = Phrases.ToDictionary(
        p => p.Key,
        p => p.Value.SelectMany(w => w).Concat(p.Value.Select(w => string.Concat(w))).ToHashSet(StringComparer.Ordinal)
    );

    /// <summary>What a field of a kind of record may mean.</summary>
    public static IReadOnlyList<FieldRole> Of(RecordKind kind) =>
        kind == RecordKind.Item ? OfItems
        : kind == RecordKind.StockLevel ? OfStock
        : kind == RecordKind.Customer ? OfCustomers
        : kind == RecordKind.Order ? OfOrders
        : [];

    /// <summary>
    /// How well a name says that a field has a role, from 0 to 1: the share of the name that a phrase covers; words around it (the names of
    /// the objects that it stands in) help a little.
    /// </summary>
    /// <param name="role">The role.</param>
    /// <param name="own">The words of the field's own name.</param>
    /// <param name="around">The words of the names around it.</param>
    public static double Match(FieldRole role, IReadOnlyList<string> own, IReadOnlyList<string> around)
    {
        var best = 0.0;
        var together = string.Concat(own);
        if (
            !Single.TryGetValue(role, out var words)
            || (!words.Contains(together) && !own.Any(words.Contains) && !around.Any(words.Contains))
        )
            return 0;
        foreach (var phrase in Phrases[role])
        {
            // Some write words together, others take compounds apart.
            if (own.Count > 0 && string.Concat(phrase) == together)
                best = Math.Max(best, 0.75 + 0.1 * Math.Min(phrase.Length - 1, 2));
            var inOwn = phrase.Count(own.Contains);
            var inAround = phrase.Count(w => !own.Contains(w) && around.Contains(w));
            if (inOwn + inAround < phrase.Length)
                continue;
            // The last phrases of a role are its weakest words; of two that fit, the longer is meant.
            var covered = own.Count == 0 ? 0 : (double)inOwn / own.Count;
            var score = 0.3 + 0.45 * covered + 0.1 * Math.Min(phrase.Length - 1, 2) + (inAround > 0 && inOwn > 0 ? 0.15 : 0);
            best = Math.Max(best, inOwn == 0 ? 0.35 : score);
        }

        return Math.Min(best, 1);
    }

    private static string[][] Words(string phrases) => [.. phrases.Split(", ").Select(p => p.Split(' '))];
}
