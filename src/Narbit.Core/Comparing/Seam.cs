using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>Two records side by side, field against field.</summary>
public static class Seam
{
    private static readonly FieldRole[] Compared =
    [
        FieldRole.Sku,
        FieldRole.Barcode,
        FieldRole.Title,
        FieldRole.Option,
        FieldRole.Category,
        FieldRole.TaxCode,
        FieldRole.Cost,
        FieldRole.Weight,
    ];

    private static readonly FieldRole[] Telling =
    [
        FieldRole.Sku,
        FieldRole.Barcode,
        FieldRole.PartNumber,
        FieldRole.Title,
        FieldRole.Option,
        FieldRole.Brand,
        FieldRole.Category,
        FieldRole.Weight,
        FieldRole.Kit,
        FieldRole.Account,
        FieldRole.Email,
        FieldRole.Phone,
        FieldRole.Company,
        FieldRole.Postcode,
        FieldRole.TaxCode,
        FieldRole.Cost,
    ];

    /// <summary>The fields that describe what a record is; a lane adds what it computes.</summary>
    /// <param name="here">The hub's fields.</param>
    /// <param name="mine">The hub record's values.</param>
    /// <param name="there">The other side's fields.</param>
    /// <param name="theirs">The other record's values.</param>
    public static IReadOnlyList<SeamRow> Between(
        FieldSet here,
        IReadOnlyDictionary<string, string> mine,
        FieldSet there,
        IReadOnlyDictionary<string, string> theirs
    )
    {
        var rows = new List<SeamRow>();
        foreach (var role in Compared)
            if (Row(role, here, mine, there, theirs) is { } row)
                rows.Add(row);
        return rows;
    }

    /// <summary>Every field of both records: what both have by what it means, then what only one of them has.</summary>
    /// <inheritdoc cref="Between"/>
    public static IReadOnlyList<SeamRow> Whole(
        FieldSet here,
        IReadOnlyDictionary<string, string> mine,
        FieldSet there,
        IReadOnlyDictionary<string, string> theirs
    )
    {
        var rows = new List<SeamRow>();
        foreach (var role in Telling)
            if (Row(role, here, mine, there, theirs) is { } row && (row.Here ?? row.There) is not null)
                rows.Add(row);
        if (Price(here, mine, there, theirs) is { } price)
            rows.Add(price);
        rows.AddRange(
            here.Fields.Where(f => !Telling.Contains(f.Role) && f.Role != FieldRole.Price)
                .Select(f => new SeamRow(f.Label, Shown(f, mine.GetValueOrDefault(f.Name)), f.Unit, SeamSign.NotMapped, null, null))
                .Where(r => r.Here is not null)
        );
        rows.AddRange(
            there
                .Fields.Where(f => !Telling.Contains(f.Role) && f.Role != FieldRole.Price)
                .Select(f => new SeamRow(f.Label, null, null, SeamSign.NotMapped, Shown(f, theirs.GetValueOrDefault(f.Name)), f.Unit))
                .Where(r => r.There is not null)
        );
        return rows;
    }

    // The first price list here against the price there; whether they agree is for a rule to say.
    private static SeamRow? Price(
        FieldSet here,
        IReadOnlyDictionary<string, string> mine,
        FieldSet there,
        IReadOnlyDictionary<string, string> theirs
    )
    {
        var (left, right) = (here.RegularPrice, there.RegularPrice);
        if (left is null && right is null)
            return null;
        var (a, b) = (left is null ? null : mine.GetValueOrDefault(left.Name), right is null ? null : theirs.GetValueOrDefault(right.Name));
        return new SeamRow(
            (left ?? right)!.Label,
            Shown(left, a),
            left?.Unit,
            a is not null && a == b ? SeamSign.Same : SeamSign.NotMapped,
            Shown(right, b),
            right?.Unit
        );
    }

    private static SeamRow? Row(
        FieldRole role,
        FieldSet here,
        IReadOnlyDictionary<string, string> mine,
        FieldSet there,
        IReadOnlyDictionary<string, string> theirs
    )
    {
        var (left, right) = (here.Find(role), there.Find(role));
        if (left is null && right is null)
            return null;
        var (a, b) = (here.Text(mine, role), there.Text(theirs, role));
        var sign = Sign(role, left, right, a, b);
        // One side says the option in its title, the other beside it; and words may stand in another order.
        if (
            role == FieldRole.Title
            && sign == SeamSign.Differs
            && TitleComparison.SaysTheSame((a, here.Text(mine, FieldRole.Option)), (b, there.Text(theirs, FieldRole.Option)))
        )
            sign = SeamSign.SameByMeaning;
        if (role == FieldRole.Option && sign == SeamSign.Differs && TitleComparison.SaysTheSame((a, null), (b, null)))
            sign = SeamSign.SameByMeaning;
        return new SeamRow((left ?? right)!.Label, Shown(left, a), left?.Unit, sign, Shown(right, b), right?.Unit);
    }

    /// <summary>A value as a person reads it: amounts with at least two decimals.</summary>
    public static string? Shown(FieldDescription? field, string? value) =>
        field?.Type == FieldType.Money
        && decimal.TryParse(
            value,
            System.Globalization.NumberStyles.Number,
            System.Globalization.CultureInfo.InvariantCulture,
            out var amount
        )
            ? Numbers.WithDecimals(amount, 2).ToString(System.Globalization.CultureInfo.InvariantCulture)
            : value;

    private static SeamSign Sign(FieldRole role, FieldDescription? left, FieldDescription? right, string? a, string? b)
    {
        if (left is null || right is null)
            return SeamSign.NotMapped;
        if (a is null && b is null)
            return SeamSign.Same;
        if (a is null)
            return SeamSign.MissingHere;
        if (b is null)
            return SeamSign.MissingThere;
        if (string.Equals(a, b, StringComparison.Ordinal))
            return SeamSign.Same;
        var same = role switch
        {
            FieldRole.Sku => SkuForm.Of(a) is { } form && form == SkuForm.Of(b),
            FieldRole.Barcode => a.TrimStart('0') == b.TrimStart('0') || (Gtin.Of(a) is { } gtin && gtin == Gtin.Of(b)),
            FieldRole.Email => CustomerForm.Email(a) is { } email && email == CustomerForm.Email(b),
            FieldRole.Postcode => CustomerForm.Postcode(a) is { } postcode && postcode == CustomerForm.Postcode(b),
            _ => FieldComparison.Same(left.Type, a, b),
        };
        return same ? SeamSign.SameByMeaning : SeamSign.Differs;
    }
}
