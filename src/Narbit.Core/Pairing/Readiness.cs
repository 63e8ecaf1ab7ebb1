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
        var check = new ReadinessOfSide(records, (required, titleLimit), partnerName, leads, pattern, across);
        return [.. records.SelectMany(check.Of)];
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

    /// <summary>A record's text in a role; null: there is none, or it is blank.</summary>
    internal static string? Text(RecordToCheck record, FieldRole role) => Text(record.Texts, role);

    /// <inheritdoc cref="Text(RecordToCheck, FieldRole)"/>
    internal static string? Text(IReadOnlyDictionary<FieldRole, string>? texts, FieldRole role) =>
        texts is not null && texts.TryGetValue(role, out var text) && !string.IsNullOrWhiteSpace(text) ? text : null;
}
