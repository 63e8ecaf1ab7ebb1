using System.Text;

namespace Narbit.Core.Pairing;

/// <summary>The form in which SKUs are compared when they are not the same to the letter.</summary>
public static class SkuForm
{
    /// <summary>
    /// Unicode NFKC (UAX #15), upper case, without spaces and separators (<c>- _ . / \ : #</c>), without leading zeros.
    /// Null where nothing is left.
    /// </summary>
    public static string? Of(string? sku)
    {
        if (string.IsNullOrWhiteSpace(sku))
            return null;
        var text = sku.IsNormalized(NormalizationForm.FormKC) ? sku : sku.Normalize(NormalizationForm.FormKC);
        var form = new StringBuilder(text.Length);
        foreach (var c in text)
        {
            if (
                char.IsWhiteSpace(c)
                || char.IsControl(c)
                || c is '-' or '_' or '.' or '/' or '\\' or ':' or '#' or '‐' or '‑' or '–' or '—'
            )
                continue;
            if (c == '0' && form.Length == 0)
                continue;
            form.Append(char.ToUpperInvariant(c));
        }

        if (form.Length > 0)
            return form.ToString();
        return text.Contains('0', StringComparison.Ordinal) ? "0" : null;
    }
}
