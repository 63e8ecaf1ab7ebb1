using Narbit.Core.Records;

namespace Narbit.Core.Describing;

/// <summary>
/// What the fields of a sample are taken for: types by their values, roles by their names and values together. Each role is given once, to
/// the field that fits best; prices by list are told apart by the names within the object that holds them.
/// </summary>
public static class FieldProposals
{
    // Below this a name and its values say too little.
    private const double Enough = 0.5;

    private static readonly string[] CentWords = ["cents", "cent", "minor", "ct", "centimes", "pence"];

    private static readonly string[] PriceGroups = ["prices", "preise", "prix", "precios", "prijzen", "pricelists", "tarifs"];

    private static readonly string[] TimeWords =
    [
        "at",
        "time",
        "date",
        "timestamp",
        "created",
        "updated",
        "modified",
        "changed",
        "placed",
        "datum",
        "zeit",
        "zeitpunkt",
        "geandert",
        "angelegt",
        "fecha",
        "cree",
        "modifie",
    ];

    private static readonly FieldRole[] Amounts =
    [
        FieldRole.Price,
        FieldRole.SalePrice,
        FieldRole.CompareAt,
        FieldRole.Cost,
        FieldRole.Total,
        FieldRole.TaxTotal,
    ];

    private static readonly FieldRole[] OtherPrices = [FieldRole.SalePrice, FieldRole.CompareAt, FieldRole.Cost];

    private static readonly string[] AmountWords =
    [
        "price",
        "preis",
        "prix",
        "amount",
        "betrag",
        "montant",
        "cost",
        "fee",
        "total",
        "precio",
        "prijs",
    ];

    /// <summary>Proposals for all fields, in their order.</summary>
    /// <param name="columns">The fields of the sample.</param>
    /// <param name="kind">What its records are.</param>
    /// <param name="key">The path of their key, which is not taken for a SKU just because it is unique.</param>
    public static IReadOnlyList<FieldProposal> Of(IReadOnlyList<SampleColumn> columns, RecordKind kind, string? key)
    {
        var roles = Roles(columns, kind, key);
        var names = new HashSet<string>(StringComparer.Ordinal);
        return [.. columns.Select(c => Proposal(c, roles.GetValueOrDefault(c.Path), names))];
    }

    /// <summary>What fields like these would mean, taken together.</summary>
    public static IReadOnlySet<FieldRole> RolesAmong(IReadOnlyList<SampleColumn> columns, RecordKind kind) =>
        Roles(columns, kind, null).Values.Select(g => g.Role).ToHashSet();

    private static Dictionary<string, Given> Roles(IReadOnlyList<SampleColumn> columns, RecordKind kind, string? key)
    {
        var given = new Dictionary<string, Given>(StringComparer.Ordinal);
        SampleColumn[] prices = kind == RecordKind.Item ? [.. columns.Where(IsPriceOfList)] : [];
        foreach (var price in prices)
            given[price.Path] = new Given(FieldRole.Price, prices.Length > 1 ? price.Path.Split('.')[^1] : null, 1);
        var taken = given.Count > 0 ? new HashSet<FieldRole> { FieldRole.Price } : [];
        var candidates =
            from field in columns
            from role in RoleWords.Of(kind)
            let score = Score(field, role, isKey: field.Path == key)
            where score >= Enough
            orderby score descending
            select (field, role, score);
        foreach (var (field, role, score) in candidates.ToList())
            if (!given.ContainsKey(field.Path) && (role == FieldRole.Option || taken.Add(role)))
                given[field.Path] = new Given(role, null, score);
        return given;
    }

    // Prices stand side by side in an object that is called so, each under the name of its list.
    private static bool IsPriceOfList(SampleColumn read) =>
        read.Around.Any(w => PriceGroups.Contains(w))
        && read.Reading.Numbers.Count == read.Reading.Count
        && read.Reading.Count > 0
        && OtherPrices.All(r => RoleWords.Match(r, read.Own, []) < 0.6);

    private static double Score(SampleColumn field, FieldRole role, bool isKey)
    {
        var name = RoleWords.Match(role, field.Own, field.Around);
        var fits = Fits(field, role, isKey);
        if (fits <= 0)
            return 0;
        return name > 0 ? 0.65 * name + 0.35 * fits
            : TellsItself(role) && fits >= 0.8 ? 0.55
            : 0;
    }

    // What can be told from its values alone, whatever it is called.
    private static bool TellsItself(FieldRole role) => role is FieldRole.Barcode or FieldRole.Email or FieldRole.Image;

    // How well the values go with a role; 0 rules it out.
    private static double Fits(SampleColumn field, FieldRole role, bool isKey)
    {
        var v = field.Reading;
        if (v.Count == 0)
            return field.Declared is null ? 0 : FitsDeclared(field.Declared.Value, role);
        var numeric = (double)Math.Max(v.Numbers.Count, v.CommaNumbers.Count) / v.Count;
        return role switch
        {
            FieldRole.Barcode => v.Gtins,
            FieldRole.Sku => v.AreTruths || v.Moment() is not null
                ? 0
                : v.Codes
                    * v.Unique
                    * (
                        v.Gtins > 0.5 ? 0.3
                        : isKey ? 0.8
                        : 1
                    ),
            FieldRole.Title => v.AreLists ? 0 : v.Words * (0.5 + 0.5 * v.Sentences) * (v.Html > 0.2 ? 0.4 : 1),
            FieldRole.Description => v.AreLists ? 0 : v.Words * (0.6 + 0.4 * v.Sentences),
            FieldRole.Email => v.Mails,
            FieldRole.Image => v.AreLists ? 0.7 + 0.3 * v.Images : v.Images,
            FieldRole.Published or FieldRole.Tracked or FieldRole.TaxIncluded => v.AreTruths ? 1
            : v.AreTruthWords ? 0.9
            : 0,
            FieldRole.TaxRate => numeric < 1 || v.Distinct > 8 || v.Numbers.Concat(v.CommaNumbers).Any(n => n is < 0 or > 100) ? 0 : 1,
            FieldRole.TaxCode => numeric > 0.9 && v.Distinct > 3 || v.Distinct > 12 ? 0
            : numeric > 0.9 ? 0.3
            : v.Codes,
            FieldRole.OnHand or FieldRole.Allocated or FieldRole.Incoming or FieldRole.Weight => v.AreTruths ? 0 : numeric,
            FieldRole.PlacedAt or FieldRole.SaleFrom or FieldRole.SaleTo => v.Moment() is null && Counted(field) is null ? 0 : 1,
            FieldRole.Location => v.AreTruths || v.AreLists ? 0
            : v.Unique < 0.5 || v.Count < 4 ? 1
            : 0.5,
            FieldRole.Item => v.AreTruths || v.AreLists ? 0 : v.Codes,
            _ when Amounts.Contains(role) => v.AreTruths ? 0 : numeric,
            _ => v.AreTruths || v.AreLists && role != FieldRole.Category && role != FieldRole.Option ? 0 : 0.9,
        };
    }

    private static double FitsDeclared(FieldType declared, FieldRole role) =>
        role switch
        {
            FieldRole.Published or FieldRole.Tracked or FieldRole.TaxIncluded => declared == FieldType.Boolean ? 1 : 0,
            FieldRole.PlacedAt or FieldRole.SaleFrom or FieldRole.SaleTo => declared is FieldType.Instant or FieldType.Date ? 1 : 0,
            FieldRole.OnHand or FieldRole.Allocated or FieldRole.Incoming or FieldRole.Weight or FieldRole.TaxRate => declared
                is FieldType.Integer
                    or FieldType.Decimal
                ? 1
                : 0,
            FieldRole.Image => declared is FieldType.List or FieldType.Text ? 0.8 : 0,
            FieldRole.Item or FieldRole.Sku or FieldRole.Location => declared is FieldType.Text or FieldType.Integer ? 0.8 : 0,
            _ when Amounts.Contains(role) => declared is FieldType.Integer or FieldType.Decimal ? 1
            : declared == FieldType.Text ? 0.3
            : 0,
            _ => declared is FieldType.Text or FieldType.Html ? 0.8 : 0,
        };

    private static FieldProposal Proposal(SampleColumn read, Given? given, HashSet<string> names)
    {
        var reasons = new List<string>();
        var role = given?.Role ?? FieldRole.None;
        var typed = Typed(read, role, reasons);
        if (role != FieldRole.None)
            reasons.Add(Why(read, role));
        return typed with
        {
            Name = Free(names, read),
            Label = given?.List is { } list ? $"Price {list}" : NameWords.Label(read.Own, read.Path),
            Role = role,
            List = given?.List,
            Required =
                read.Required
                ?? (
                    read.Reading.Records > 1
                    && read.Reading.Count == read.Reading.Records
                    && role is FieldRole.Sku or FieldRole.Title or FieldRole.Price or FieldRole.Item
                ),
            MaxLength = read.MaxLength,
            Reasons = reasons,
            Values = read.Reading.Some(),
        };
    }

    private static string Free(HashSet<string> names, SampleColumn column)
    {
        List<string> words = [.. column.Around, .. column.Own];
        var name = words.Count == 0 ? "value" : words[0] + string.Concat(words.Skip(1).Select(w => char.ToUpperInvariant(w[0]) + w[1..]));
        var free = name;
        for (var n = 2; !names.Add(free); n++)
            free = $"{name}{n}";
        return free;
    }

    private static string Why(SampleColumn read, FieldRole role)
    {
        var v = read.Reading;
        var meaning = RoleName(role);
        return role switch
        {
            FieldRole.Barcode when v.Count > 0 => $"digits with a right check digit in {Of(v.Gtins, v.Count)}: {meaning}",
            FieldRole.Email when v.Count > 0 => $"mail addresses in {Of(v.Mails, v.Count)}",
            FieldRole.Sku when v.Count > 0 => $"called “{read.Path}”, different in {v.Distinct} of {v.Count}: {meaning}",
            _ => $"called “{read.Path}”: {meaning}",
        };
    }

    private static string Of(double share, int count) => $"{Math.Round(share * count):0} of {count}";

    private static string RoleName(FieldRole role) => string.Join(' ', NameWords.Of(role.ToString()));

    private static FieldProposal Typed(SampleColumn read, FieldRole role, List<string> reasons)
    {
        var v = read.Reading;
        var bare = new FieldProposal
        {
            Path = read.Path,
            Name = "",
            Label = "",
            Type = FieldType.Text,
            Reasons = reasons,
            Values = [],
        };
        if (v.Count == 0)
            return Declared(bare, read, role, reasons);
        if (v.AreLists)
            return Say(bare with { Type = FieldType.List }, reasons, "a list in each");
        if (v.AreTruths)
            return Say(bare with { Type = FieldType.Boolean }, reasons, "true or false");
        if (v.Moment() is var (moment, format))
            return Say(
                bare with
                {
                    Type = moment,
                    Format = format,
                },
                reasons,
                (moment == FieldType.Date ? "a date" : "a date with time")
                    + (format is null ? "" : $", written {format}")
                    + $" in all {v.Count}"
            );
        if (Counted(read) is { } counted)
            return Say(bare with { Type = FieldType.Instant, Format = counted }, reasons, $"{counted} since 1970, by its name and size");
        if (role is FieldRole.Published or FieldRole.Tracked or FieldRole.TaxIncluded && v.AreTruthWords)
            return Say(bare with { Type = FieldType.Boolean }, reasons, $"yes or no in {v.Count}, as {string.Join(" and ", v.Some())}");
        return AsNumber(bare, read, role, reasons) ?? AsText(bare, read, role, reasons);
    }

    // Counts since 1970 of this century, in a field that is called like a time.
    private static string? Counted(SampleColumn read)
    {
        var v = read.Reading;
        if (v.Numbers.Count < v.Count || !read.Own.Any(w => TimeWords.Contains(w)))
            return null;
        return v.Numbers.TrueForAll(n => n is > 978_307_200 and < 4_102_444_800) ? EpochForm.Seconds
            : v.Numbers.TrueForAll(n => n is > 978_307_200_000 and < 4_102_444_800_000) ? EpochForm.Milliseconds
            : null;
    }

    private static FieldProposal Declared(FieldProposal bare, SampleColumn read, FieldRole role, List<string> reasons)
    {
        if (read.Declared is not { } declared)
            return Say(bare, reasons, "no record of the sample has it");
        var isNumber = declared is FieldType.Integer or FieldType.Decimal;
        return Say(
            isNumber ? Measured(bare with { Type = declared }, read, role, [], reasons) : bare with { Type = declared },
            reasons,
            "as the contract says"
        );
    }

    // Digits that are a name (a barcode, a key, with zeros before them) are no number.
    private static FieldProposal? AsNumber(FieldProposal bare, SampleColumn read, FieldRole role, List<string> reasons)
    {
        var v = read.Reading;
        var (numbers, mark) = v.CommaNumbers.Count > v.Numbers.Count ? (v.CommaNumbers, ',') : (v.Numbers, '.');
        if (
            numbers.Count < v.Count
            || IsName(role)
            || (!v.AreNumbers && (v.LeadingZeros > 0 || v.Gtins > 0.8 || IsCalledAName(read, role)))
        )
            return null;
        if (v.AreNumbers && (v.Gtins > 0.8 || role == FieldRole.None && IsCalledAName(read, role)))
            return null;
        var whole = numbers.TrueForAll(n => n == decimal.Truncate(n));
        var typed = bare with { Type = whole ? FieldType.Integer : FieldType.Decimal, DecimalMark = mark };
        if (mark == ',')
            reasons.Add("numbers with a comma");
        return Measured(typed, read, role, numbers, reasons);
    }

    private static bool IsName(FieldRole role) =>
        role
            is FieldRole.Sku
                or FieldRole.Barcode
                or FieldRole.Item
                or FieldRole.Location
                or FieldRole.PartNumber
                or FieldRole.Account
                or FieldRole.Number
                or FieldRole.Postcode
                or FieldRole.Phone
                or FieldRole.TaxCode
                or FieldRole.Title
                or FieldRole.Option
                or FieldRole.Category;

    private static bool IsCalledAName(SampleColumn read, FieldRole role) =>
        role == FieldRole.None
        && read.Own.Any(w => w is "id" or "key" or "code" or "no" or "nr" or "number" or "nummer" or "ref" or "uuid");

    private static FieldProposal Measured(
        FieldProposal typed,
        SampleColumn read,
        FieldRole role,
        List<decimal> numbers,
        List<string> reasons
    )
    {
        if (Amounts.Contains(role) || (role == FieldRole.None && IsAmount(read, numbers)))
            return Cents(typed with { Type = FieldType.Money }, read, numbers, reasons);
        return role switch
        {
            FieldRole.TaxRate => Rate(typed with { Type = FieldType.Percent, Unit = "%" }, numbers, reasons),
            FieldRole.Weight => Weight(typed with { Type = FieldType.Weight, Unit = "kg" }, read, numbers, reasons),
            FieldRole.None when Length(read) is { } factor => Say(
                typed with
                {
                    Type = FieldType.Length,
                    Unit = "mm",
                    Factor = factor,
                },
                reasons,
                "a length by its name"
            ),
            _ => Say(typed, reasons, typed.Type == FieldType.Integer ? "whole numbers" : "numbers"),
        };
    }

    private static bool IsAmount(SampleColumn read, List<decimal> numbers) =>
        read.Own.Any(w => AmountWords.Contains(w) || CentWords.Contains(w) || AmountWords.Any(a => w.EndsWith(a, StringComparison.Ordinal)))
        && numbers.TrueForAll(n => decimal.Round(n, 4) == n);

    private static FieldProposal Cents(FieldProposal typed, SampleColumn read, List<decimal> numbers, List<string> reasons)
    {
        if (read.Own.Concat(read.Around).Any(w => CentWords.Contains(w)))
            return Say(typed with { Factor = 0.01m }, reasons, "an amount in cents, by its name");
        var whole = numbers.Count > 0 && numbers.TrueForAll(n => n == decimal.Truncate(n));
        var shopLike = numbers.Count(n => (int)Math.Abs(n % 100) is 0 or 49 or 50 or 90 or 95 or 99);
        var median = numbers.Count == 0 ? 0 : numbers.Order().ElementAt(numbers.Count / 2);
        // Whole euros in every one of many prices are rarer than cents; a system that writes decimals at all would show some.
        return whole && numbers.Count >= 5 && median >= 300 && read.Reading.AreNumbers
            ? Say(
                typed with
                {
                    Factor = 0.01m,
                },
                reasons,
                $"whole numbers around {median:0}, {shopLike} of {numbers.Count} ending as prices do: an amount in cents"
            )
            : Say(typed, reasons, "an amount");
    }

    private static FieldProposal Rate(FieldProposal typed, List<decimal> numbers, List<string> reasons) =>
        numbers.Count > 0 && numbers.TrueForAll(n => n is >= 0 and <= 1) && numbers.Exists(n => n is > 0 and < 1)
            ? Say(typed with { Factor = 100 }, reasons, "a rate as a share of 1")
            : Say(typed, reasons, "a rate in percent");

    private static FieldProposal Weight(FieldProposal typed, SampleColumn read, List<decimal> numbers, List<string> reasons)
    {
        var own = read.Own;
        if (own.Any(w => w is "kg" or "kilogram" or "kilo" or "kilos"))
            return Say(typed, reasons, "a weight in kilograms, by its name");
        if (own.Any(w => w is "g" or "gram" or "grams" or "gramm" or "grammes" or "gramos"))
            return Say(typed with { Factor = 0.001m }, reasons, "a weight in grams, by its name");
        var whole = numbers.Count > 0 && numbers.TrueForAll(n => n == decimal.Truncate(n));
        return whole && numbers.Order().ElementAt(numbers.Count / 2) >= 50
            ? Say(typed with { Factor = 0.001m }, reasons, "whole numbers of 50 and more: a weight in grams")
            : Say(typed, reasons, "a weight in kilograms");
    }

    private static decimal? Length(SampleColumn read)
    {
        var isLength = read.Own.Any(w =>
            w
                is "length"
                    or "width"
                    or "height"
                    or "depth"
                    or "diameter"
                    or "breite"
                    or "hohe"
                    or "laenge"
                    or "tiefe"
                    or "largeur"
                    or "hauteur"
        );
        return !isLength ? null
            : read.Own.Contains("cm") ? 10
            : read.Own.Contains("m") ? 1000
            : 1;
    }

    private static FieldProposal AsText(FieldProposal bare, SampleColumn read, FieldRole role, List<string> reasons)
    {
        var v = read.Reading;
        if (v.Html > 0.2)
            return Say(bare with { Type = FieldType.Html }, reasons, $"text with HTML in {Of(v.Html, v.Count)}");
        if (role == FieldRole.Image && v.Images > 0.5)
            return Say(bare with { Type = FieldType.Image }, reasons, $"names of pictures in {Of(v.Images, v.Count)}");
        return role switch
        {
            FieldRole.Item => bare with { Type = FieldType.Reference },
            FieldRole.TaxCode => bare with { Type = FieldType.Code },
            _ => bare,
        };
    }

    private static FieldProposal Say(FieldProposal proposal, List<string> reasons, string why)
    {
        reasons.Add(why);
        return proposal;
    }

    private sealed record Given(FieldRole Role, string? List, double Score);
}
