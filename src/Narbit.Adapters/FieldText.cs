using System.Globalization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>Values as systems write them in text, to canonical text and back.</summary>
internal static class FieldText
{
    private static readonly string[] IsoInstants =
    [
        "yyyy-MM-dd'T'HH:mm:ss.FFFFFFFK",
        "yyyy-MM-dd'T'HH:mmK",
        "yyyy-MM-dd' 'HH:mm:ss.FFFFFFFK",
        "yyyy-MM-dd",
        "yyyyMMdd'T'HHmmssK",
    ];

    private static readonly string[] IsoDates = ["yyyy-MM-dd", "yyyyMMdd"];

    /// <summary>Whether a type is a number.</summary>
    public static bool IsNumber(FieldType type) =>
        type is FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight or FieldType.Length;

    /// <summary>The canonical form, or null where the text is not what its type is.</summary>
    /// <param name="field">The field.</param>
    /// <param name="text">The text as the system writes it.</param>
    public static string? Canonical(DocumentField field, string text)
    {
        switch (field.Type)
        {
            case FieldType.Boolean:
                return text.ToLowerInvariant() switch
                {
                    "true" or "yes" or "y" or "1" => "true",
                    "false" or "no" or "n" or "0" => "false",
                    _ => null,
                };
            case FieldType.Instant:
                return Instant(text, field.Format);
            case FieldType.Date:
                return Date(text, field.Format);
            case var type when IsNumber(type):
                return Number(field, text);
            default:
                return text;
        }
    }

    /// <summary>A system's number as Narbit's, or null where it is too large or no whole number where one is wanted.</summary>
    public static string? Scaled(FieldType type, decimal number, decimal factor)
    {
        try
        {
            number *= factor;
        }
        catch (OverflowException)
        {
            return null;
        }

        return type == FieldType.Integer && number != decimal.Truncate(number) ? null : Numbers.Plain(number);
    }

    /// <summary>A canonical value as the system writes it.</summary>
    /// <exception cref="OverflowException">The number is too large in the system's unit.</exception>
    public static string Written(DocumentField field, string canonical)
    {
        if (field is { Type: FieldType.Instant or FieldType.Date, Format: { } format })
        {
            var instant = DateTimeOffset.Parse(canonical, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);
            return EpochForm.Is(format)
                ? EpochForm.Count(instant, format).ToString(CultureInfo.InvariantCulture)
                : instant.UtcDateTime.ToString(format, CultureInfo.InvariantCulture);
        }

        if (!IsNumber(field.Type))
            return canonical;
        var number = Unscaled(canonical, field.Factor);
        var text = field is { Type: FieldType.Money, Factor: 1 }
            ? Numbers.WithDecimals(number, 2).ToString(CultureInfo.InvariantCulture)
            : number.ToString(CultureInfo.InvariantCulture);
        return field.DecimalMark == '.' ? text : text.Replace('.', field.DecimalMark);
    }

    /// <summary>Narbit's number as the system's.</summary>
    /// <exception cref="OverflowException">It is too large in the system's unit.</exception>
    public static decimal Unscaled(string canonical, decimal factor)
    {
        var value = decimal.Parse(canonical, CultureInfo.InvariantCulture) / factor;
        return value == decimal.Truncate(value) ? decimal.Truncate(value) : value;
    }

    private static string? Number(DocumentField field, string text)
    {
        const NumberStyles Plain = NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint;
        return decimal.TryParse(Numbers.WithPoint(text, field.DecimalMark), Plain, CultureInfo.InvariantCulture, out var number)
            ? Scaled(field.Type, number, field.Factor)
            : null;
    }

    // What merely looks like a date to a lenient reader is none: 01/02/2026 is two days.
    private static string? Instant(string text, string? format)
    {
        if (EpochForm.Is(format))
            return EpochForm.Instant(text, format!) is { } counted ? Canonical(counted) : null;
        const DateTimeStyles Utc = DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal;
        string[] formats = format is null ? IsoInstants : [format];
        return DateTimeOffset.TryParseExact(text, formats, CultureInfo.InvariantCulture, Utc, out var instant) ? Canonical(instant) : null;
    }

    private static string Canonical(DateTimeOffset instant) =>
        instant.ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture);

    private static string? Date(string text, string? format)
    {
        string[] formats = format is null ? IsoDates : [format];
        return DateOnly.TryParseExact(text, formats, CultureInfo.InvariantCulture, DateTimeStyles.None, out var date)
            ? date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
            : null;
    }
}
