using System.Globalization;
using System.Text;
using PhoneNumbers;

namespace Narbit.Core.Pairing;

/// <summary>The forms in which the particulars of customers are compared.</summary>
public static class CustomerForm
{
    private static readonly PhoneNumberUtil Phones = PhoneNumberUtil.GetInstance();

    /// <summary>An email address in Unicode NFKC, lower case, its domain in ASCII (IDNA); null where it is none.</summary>
    public static string? Email(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        var address = text.Trim().Normalize(NormalizationForm.FormKC).ToLowerInvariant();
        var at = address.LastIndexOf('@');
        if (at <= 0 || at == address.Length - 1 || address.Contains(' ', StringComparison.Ordinal))
            return null;
        try
        {
            return $"{address[..at]}@{new IdnMapping().GetAscii(address[(at + 1)..].TrimEnd('.'))}";
        }
        catch (ArgumentException)
        {
            return null;
        }
    }

    /// <summary>
    /// A phone number as ITU-T E.164 has it (+ and at most 15 digits); null where it cannot be one. Without a country, a number that is
    /// written without its code is its digits alone, which compare with others written so.
    /// </summary>
    /// <param name="text">The number as written.</param>
    /// <param name="country">ISO 3166-1 code of the country whose numbers are written without a code; null: none.</param>
    public static string? Phone(string? text, string? country)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        var written = text.Normalize(NormalizationForm.FormKC);
        try
        {
            var number = Phones.Parse(written, country);
            return Phones.IsPossibleNumber(number) ? Phones.Format(number, PhoneNumberFormat.E164) : null;
        }
        catch (NumberParseException error) when (error.ErrorType == ErrorType.INVALID_COUNTRY_CODE && country is null)
        {
            var digits = new string([.. written.Where(char.IsAsciiDigit)]).TrimStart('0');
            return digits.Length is >= 6 and <= 15 ? digits : null;
        }
        catch (NumberParseException)
        {
            return null;
        }
    }

    /// <summary>A postcode in upper case without spaces and hyphens; null where nothing is left.</summary>
    public static string? Postcode(string? text)
    {
        if (text is null)
            return null;
        var plain = new string([.. text.Normalize(NormalizationForm.FormKC).Where(char.IsLetterOrDigit)]).ToUpperInvariant();
        return plain.Length == 0 ? null : plain;
    }
}
