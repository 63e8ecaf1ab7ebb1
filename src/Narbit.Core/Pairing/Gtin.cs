namespace Narbit.Core.Pairing;

/// <summary>GTIN-8, -12, -13 and -14 as one number of 14 digits (GS1 General Specifications, check digit by modulo 10).</summary>
public static class Gtin
{
    /// <summary>The 14 digits, or null where the text is no GTIN or its check digit is wrong.</summary>
    /// <param name="text">The barcode as a system keeps it; spaces and hyphens are allowed.</param>
    public static string? Of(string? text) => Digits(text) is { } digits && CheckDigit(digits.AsSpan(0, 13)) == digits[13] ? digits : null;

    /// <summary>Why a barcode counts for nothing, in words; null where it is right or empty.</summary>
    public static string? Fault(string? text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        if (Digits(text) is not { } digits)
            return $"barcode {text.Trim()} is no GTIN (8, 12, 13 or 14 digits)";
        var right = CheckDigit(digits.AsSpan(0, 13));
        return right == digits[13] ? null : $"barcode {text.Trim()} has a wrong check digit: {digits[13]} where {right} is right";
    }

    /// <summary>
    /// A barcode with the check digit that its other digits ask for, written as it was; null where it is no GTIN or right already. One of
    /// the others may be the wrong one, so that it is a proposal and no more.
    /// </summary>
    /// <param name="text">The barcode as a system keeps it.</param>
    public static string? Mended(string? text)
    {
        if (Digits(text) is not { } digits || CheckDigit(digits.AsSpan(0, 13)) is var right && right == digits[13])
            return null;
        var last = text!.LastIndexOf(digits[13]);
        return $"{text[..last]}{right}{text[(last + 1)..]}";
    }

    /// <summary>The check digit of 13 digits, left-padded with zeros.</summary>
    public static char CheckDigit(ReadOnlySpan<char> thirteen)
    {
        var sum = 0;
        for (var i = 0; i < thirteen.Length; i++)
            sum += (thirteen[i] - '0') * (i % 2 == 0 ? 3 : 1);
        return (char)('0' + (10 - sum % 10) % 10);
    }

    private static string? Digits(string? text)
    {
        if (text is null)
            return null;
        Span<char> digits = stackalloc char[14];
        var count = 0;
        foreach (var c in text)
        {
            if (c is ' ' or '-' or '\u00A0')
                continue;
            if (c is < '0' or > '9' || count == 14)
                return null;
            digits[count++] = c;
        }

        return count is 8 or 12 or 13 or 14 && digits[..count].ContainsAnyExcept('0') ? new string(digits[..count]).PadLeft(14, '0') : null;
    }
}
