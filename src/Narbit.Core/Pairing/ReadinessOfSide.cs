using System.Globalization;
using Narbit.Core.Records;
using static Narbit.Core.Pairing.Readiness;

namespace Narbit.Core.Pairing;

/// <summary>The readiness check of one side: who uses which SKU and barcode is known of all before the first is looked at.</summary>
internal sealed class ReadinessOfSide
{
    private readonly (IReadOnlyDictionary<FieldRole, string> Required, int? TitleLimit) _asked;
    private readonly string _partner;
    private readonly bool _leads;
    private readonly string _pattern;
    private readonly IReadOnlySet<string>? _across;
    private readonly Dictionary<string, List<string>> _skus;
    private readonly Dictionary<string, List<string>> _forms;
    private readonly Dictionary<string, List<string>> _barcodes;
    private readonly HashSet<string> _taken;

    /// <summary>Looks at all records once; the parameters are those of <see cref="Readiness.Check"/>.</summary>
    public ReadinessOfSide(
        IReadOnlyList<RecordToCheck> records,
        (IReadOnlyDictionary<FieldRole, string> Required, int? TitleLimit) asked,
        string partner,
        bool leads,
        string pattern,
        IReadOnlySet<string>? across
    )
    {
        (_asked, _partner, _leads, _pattern, _across) = (asked, partner, leads, pattern, across);
        _skus = Groups(records, FieldRole.Sku, sku => sku.Trim());
        _forms = Groups(records, FieldRole.Sku, SkuForm.Of);
        _barcodes = Groups(records, FieldRole.Barcode, Gtin.Of);
        _taken = _forms.Keys.ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>What is to be put in order of a record. Each is asked once, as a SKU that is proposed is taken by it.</summary>
    public IEnumerable<ReadinessFinding> Of(RecordToCheck record)
    {
        if (OfSku(record) is { } sku)
            yield return sku;
        if (OfBarcode(record) is { } barcode)
            yield return barcode;
        foreach (var missing in Missing(record))
            yield return missing;
        if (OfPrice(record) is { } price)
            yield return price;
        if (OfTitle(record) is { } title)
            yield return title;
    }

    private ReadinessFinding? OfSku(RecordToCheck record)
    {
        if (Text(record, FieldRole.Sku) is not { } sku)
        {
            var (made, why) = ProposeSku(record);
            return Sku(record, ReadinessCause.SkuMissing, "no SKU", made, why);
        }

        if (_skus[sku.Trim()] is { Count: > 1 } twice)
        {
            // The first keeps it.
            var (made, why) = twice[0] == record.Key ? (null, null) : ProposeSku(record);
            return Sku(record, ReadinessCause.SkuTwice, $"SKU {sku} is used by {Others(twice, record.Key)} too", made, why);
        }

        if (SkuForm.Of(sku) is { } form && _forms[form] is { Count: > 1 } alike)
            return Sku(record, ReadinessCause.SkuForm, $"SKU {sku} differs only in form from that of {Others(alike, record.Key)}");
        return Text(record.Partner, FieldRole.Sku) is { } theirs ? BesideTheirs(record, sku, theirs) : null;
    }

    private ReadinessFinding? BesideTheirs(RecordToCheck record, string sku, string theirs)
    {
        if (!_leads && theirs != sku && SkuForm.Of(theirs) == SkuForm.Of(sku))
            return Sku(record, ReadinessCause.SkuForm, $"SKU {sku} is {theirs} in {_partner}", theirs, $"as {_partner} writes it");
        return _across is not null && SkuForm.Of(sku) is { } used && SkuForm.Of(theirs) != used && _across.Contains(used)
            ? Sku(
                record,
                ReadinessCause.SkuOfAnother,
                $"SKU {sku} is that of another record in {_partner}; its partner there has {theirs}",
                theirs,
                $"as its partner in {_partner} has it"
            )
            : null;
    }

    private ReadinessFinding? OfBarcode(RecordToCheck record)
    {
        var barcode = Text(record, FieldRole.Barcode);
        if (Gtin.Fault(barcode) is not { } wrong)
            return Gtin.Of(barcode) is { } gtin && _barcodes[gtin] is { Count: > 1 } twice
                ? Finding(
                    record,
                    ReadinessCause.BarcodeTwice,
                    FieldRole.Barcode,
                    $"barcode {barcode} is used by {Others(twice, record.Key)} too"
                )
                : null;
        var theirs = Text(record.Partner, FieldRole.Barcode);
        if (Gtin.Of(theirs) is not null)
            return Finding(record, ReadinessCause.BarcodeInvalid, FieldRole.Barcode, wrong, theirs, $"as {_partner} has it");
        // One that somebody else has is not what is meant.
        var mended = Gtin.Mended(barcode) is { } made && !_barcodes.ContainsKey(Gtin.Of(made)!) ? made : null;
        var because = mended is null ? null : "with the check digit that its other digits ask for; one of them may be wrong instead";
        return Finding(record, ReadinessCause.BarcodeInvalid, FieldRole.Barcode, wrong, mended, because);
    }

    private IEnumerable<ReadinessFinding> Missing(RecordToCheck record) =>
        from asked in _asked.Required
        where Text(record, asked.Key) is null
        let theirs = Text(record.Partner, asked.Key)
        select Finding(
            record,
            ReadinessCause.Missing,
            asked.Key,
            $"no {asked.Value.ToLowerInvariant()}, which {_partner} requires",
            theirs,
            theirs is null ? null : $"as {_partner} has it"
        );

    private static ReadinessFinding? OfPrice(RecordToCheck record) =>
        Text(record, FieldRole.Price) is { } price
        && decimal.TryParse(price, NumberStyles.Number, CultureInfo.InvariantCulture, out var amount)
        && amount <= 0
            ? Finding(record, ReadinessCause.PriceZero, FieldRole.Price, $"its price is {price}")
            : null;

    private ReadinessFinding? OfTitle(RecordToCheck record) =>
        _asked.TitleLimit is { } limit && Text(record, FieldRole.Title) is { } title && title.Length > limit
            ? Finding(
                record,
                ReadinessCause.TitleTooLong,
                FieldRole.Title,
                $"its title has {title.Length} characters; {_partner} takes {limit}"
            )
            : null;

    private static ReadinessFinding Sku(
        RecordToCheck record,
        ReadinessCause cause,
        string words,
        string? proposal = null,
        string? because = null
    ) => Finding(record, cause, FieldRole.Sku, words, proposal, because);

    private static ReadinessFinding Finding(
        RecordToCheck record,
        ReadinessCause cause,
        FieldRole role,
        string words,
        string? proposal = null,
        string? because = null
    ) => new(cause, role, record.Key, words, proposal, because);

    private (string? Proposal, string? Because) ProposeSku(RecordToCheck record)
    {
        if (Text(record.Partner, FieldRole.Sku) is { } theirs && SkuForm.Of(theirs) is { } their && _taken.Add(their))
            return (theirs, $"as {_partner} has it");
        return SkuBy(_pattern, record, _taken) is { } made ? (made, $"by the pattern {_pattern}") : (null, null);
    }

    private static Dictionary<string, List<string>> Groups(IReadOnlyList<RecordToCheck> records, FieldRole role, Func<string, string?> form)
    {
        var groups = new Dictionary<string, List<string>>(StringComparer.Ordinal);
        foreach (var record in records)
        {
            if (Text(record, role) is not { } text || form(text) is not { } key)
                continue;
            if (groups.TryGetValue(key, out var list))
                list.Add(record.Key);
            else
                groups[key] = [record.Key];
        }

        return groups;
    }

    private static string Others(List<string> keys, string key)
    {
        var others = keys.Where(k => k != key).ToList();
        return string.Join(", ", others.Take(4)) + (others.Count > 4 ? $" and {others.Count - 4} more" : "");
    }
}
