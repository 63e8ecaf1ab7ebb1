using System.Globalization;
using System.Text.Json.Serialization;
using Narbit.Core.Records;

namespace Narbit.Core.Pairing;

/// <summary>Looks for what should be put in order before the first records are sent.</summary>
public static class Readiness
{
    /// <summary>The pattern by which SKUs are proposed unless another is given.</summary>
    public const string DefaultPattern = "{group}-{option}";

    /// <summary>Checks one system's records.</summary>
    /// <param name="records">The records.</param>
    /// <param name="required">The roles that the target requires of each record, with what they are called.</param>
    /// <param name="titleLimit">The most characters the target's title takes, or null.</param>
    /// <param name="partnerName">What the other side is called.</param>
    /// <param name="leads">Whether SKUs are kept here, so that the other side should follow where they differ in form.</param>
    /// <param name="pattern">How a SKU is made up, see <see cref="SkuBy"/>.</param>
    /// <param name="across">The SKUs of the other side, by their forms; null: they are of no matter.</param>
    public static IReadOnlyList<ReadinessFinding> Check(
        IReadOnlyList<RecordToCheck> records,
        IReadOnlyDictionary<FieldRole, string> required,
        int? titleLimit,
        string partnerName,
        bool leads = false,
        string pattern = DefaultPattern,
        IReadOnlySet<string>? across = null
    )
    {
        var findings = new List<ReadinessFinding>();
        var skus = Groups(FieldRole.Sku, sku => sku.Trim());
        var forms = Groups(FieldRole.Sku, SkuForm.Of);
        var barcodes = Groups(FieldRole.Barcode, Gtin.Of);
        var taken = forms.Keys.ToHashSet(StringComparer.Ordinal);
        foreach (var record in records)
        {
            var sku = Text(record, FieldRole.Sku);
            if (sku is null)
            {
                var (proposal, because) = ProposeSku(record);
                findings.Add(new(ReadinessCause.SkuMissing, FieldRole.Sku, record.Key, "no SKU", proposal, because));
            }
            else if (skus[sku.Trim()].Count > 1)
            {
                // The first keeps it.
                var (proposal, because) = skus[sku.Trim()][0] == record.Key ? (null, (string?)null) : ProposeSku(record);
                findings.Add(
                    new(
                        ReadinessCause.SkuTwice,
                        FieldRole.Sku,
                        record.Key,
                        $"SKU {sku} is used by {Others(skus[sku.Trim()], record.Key)} too",
                        proposal,
                        because
                    )
                );
            }
            else if (SkuForm.Of(sku) is { } form && forms[form].Count > 1)
            {
                findings.Add(
                    new(
                        ReadinessCause.SkuForm,
                        FieldRole.Sku,
                        record.Key,
                        $"SKU {sku} differs only in form from that of {Others(forms[form], record.Key)}",
                        null,
                        null
                    )
                );
            }
            else if (!leads && Text(record.Partner, FieldRole.Sku) is { } theirs && theirs != sku && SkuForm.Of(theirs) == SkuForm.Of(sku))
            {
                findings.Add(
                    new(
                        ReadinessCause.SkuForm,
                        FieldRole.Sku,
                        record.Key,
                        $"SKU {sku} is {theirs} in {partnerName}",
                        theirs,
                        $"as {partnerName} writes it"
                    )
                );
            }
            else if (
                across is not null
                && Text(record.Partner, FieldRole.Sku) is { } own
                && SkuForm.Of(sku) is { } used
                && SkuForm.Of(own) != used
                && across.Contains(used)
            )
            {
                findings.Add(
                    new(
                        ReadinessCause.SkuOfAnother,
                        FieldRole.Sku,
                        record.Key,
                        $"SKU {sku} is that of another record in {partnerName}; its partner there has {own}",
                        own,
                        $"as its partner in {partnerName} has it"
                    )
                );
            }

            var barcode = Text(record, FieldRole.Barcode);
            if (Gtin.Fault(barcode) is { } wrong)
            {
                var theirs = Text(record.Partner, FieldRole.Barcode);
                var right = Gtin.Of(theirs) is not null ? theirs : null;
                // One that somebody else has is not what is meant.
                var mended = right is null && Gtin.Mended(barcode) is { } made && !barcodes.ContainsKey(Gtin.Of(made)!) ? made : null;
                findings.Add(
                    new(
                        ReadinessCause.BarcodeInvalid,
                        FieldRole.Barcode,
                        record.Key,
                        wrong,
                        right ?? mended,
                        right is not null ? $"as {partnerName} has it"
                            : mended is not null ? "with the check digit that its other digits ask for; one of them may be wrong instead"
                            : null
                    )
                );
            }
            else if (Gtin.Of(barcode) is { } gtin && barcodes[gtin].Count > 1)
            {
                findings.Add(
                    new(
                        ReadinessCause.BarcodeTwice,
                        FieldRole.Barcode,
                        record.Key,
                        $"barcode {barcode} is used by {Others(barcodes[gtin], record.Key)} too",
                        null,
                        null
                    )
                );
            }

            foreach (var (role, label) in required)
            {
                if (Text(record, role) is not null)
                    continue;
                var theirs = Text(record.Partner, role);
                findings.Add(
                    new(
                        ReadinessCause.Missing,
                        role,
                        record.Key,
                        $"no {label.ToLowerInvariant()}, which {partnerName} requires",
                        theirs,
                        theirs is null ? null : $"as {partnerName} has it"
                    )
                );
            }

            if (
                Text(record, FieldRole.Price) is { } price
                && decimal.TryParse(price, NumberStyles.Number, CultureInfo.InvariantCulture, out var amount)
                && amount <= 0
            )
                findings.Add(new(ReadinessCause.PriceZero, FieldRole.Price, record.Key, $"its price is {price}", null, null));
            if (titleLimit is { } limit && Text(record, FieldRole.Title) is { } title && title.Length > limit)
                findings.Add(
                    new(
                        ReadinessCause.TitleTooLong,
                        FieldRole.Title,
                        record.Key,
                        $"its title has {title.Length} characters; {partnerName} takes {limit}",
                        null,
                        null
                    )
                );
        }

        return findings;

        Dictionary<string, List<string>> Groups(FieldRole role, Func<string, string?> form)
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

        (string? Proposal, string? Because) ProposeSku(RecordToCheck record)
        {
            if (Text(record.Partner, FieldRole.Sku) is { } theirs && SkuForm.Of(theirs) is { } their && taken.Add(their))
                return (theirs, $"as {partnerName} has it");
            return SkuBy(pattern, record, taken) is { } made ? (made, $"by the pattern {pattern}") : (null, null);
        }
    }

    /// <summary>
    /// Makes up a SKU: <c>{group}</c>, <c>{option}</c>, <c>{title}</c> (its first letters, which also stand for a group that is a mere
    /// number) and <c>{key}</c> stand for what the record has, in capitals, with hyphens for all else.
    /// A number is added where the SKU is taken.
    /// </summary>
    /// <param name="pattern">The pattern.</param>
    /// <param name="record">The record.</param>
    /// <param name="taken">The forms that are in use; the new one is added.</param>
    /// <returns>The SKU, or null where the pattern gives nothing for this record.</returns>
    public static string? SkuBy(string pattern, RecordToCheck record, ISet<string> taken)
    {
        var title = string.Concat(
            (Text(record, FieldRole.Title) ?? "")
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Where(w => char.IsLetter(w[0]))
                .Take(3)
                .Select(w => w[..Math.Min(3, w.Length)])
        );
        var filled = pattern
            // A group that is a mere number tells nobody anything.
            .Replace("{group}", record.Group?.Any(char.IsLetter) == true ? record.Group : title, StringComparison.OrdinalIgnoreCase)
            .Replace("{option}", Text(record, FieldRole.Option) ?? "", StringComparison.OrdinalIgnoreCase)
            .Replace("{title}", title, StringComparison.OrdinalIgnoreCase)
            .Replace("{key}", record.Key, StringComparison.OrdinalIgnoreCase);
        var parts = new string([.. filled.ToUpperInvariant().Select(c => char.IsLetterOrDigit(c) && c < 128 ? c : '-')]).Split(
            '-',
            StringSplitOptions.RemoveEmptyEntries
        );
        if (parts.Length == 0)
            return null;
        var sku = string.Join('-', parts);
        for (var n = 1; ; n++)
        {
            var made = n == 1 ? sku : $"{sku}-{n}";
            if (SkuForm.Of(made) is { } form && taken.Add(form))
                return made;
        }
    }

    private static string? Text(RecordToCheck record, FieldRole role) => Text(record.Texts, role);

    private static string? Text(IReadOnlyDictionary<FieldRole, string>? texts, FieldRole role) =>
        texts is not null && texts.TryGetValue(role, out var text) && !string.IsNullOrWhiteSpace(text) ? text : null;

    private static string Others(List<string> keys, string key)
    {
        var others = keys.Where(k => k != key).ToList();
        return string.Join(", ", others.Take(4)) + (others.Count > 4 ? $" and {others.Count - 4} more" : "");
    }
}
