using System.Globalization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>Values as systems write them in text, to canonical text and back.</summary>
internal static class FieldText
{
    /// <summary>Whether a type is a number.</summary>
    public static bool IsNumber(FieldType type) =>
        type is FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight;

    /// <summary>The canonical form, or null where the text is not what its type is.</summary>
    /// <param name="type">The type.</param>
    /// <param name="text">The text as the system writes it.</param>
    /// <param name="factor">The system's number times this is Narbit's.</param>
    /// <param name="mark">The decimal mark, a point or a comma.</param>
    public static string? Canonical(FieldType type, string text, decimal factor, char mark)
    {
        if (type == FieldType.Boolean)
            return text.ToLowerInvariant() switch
            {
                "true" or "yes" or "y" or "1" => "true",
                "false" or "no" or "n" or "0" => "false",
                _ => null,
            };
        if (type == FieldType.Instant)
            return DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var instant)
                ? instant.ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture)
                : null;
        if (!IsNumber(type))
            return text;
        if (mark != '.')
        {
            if (text.Contains('.', StringComparison.Ordinal))
                return null;
            text = text.Replace(mark, '.');
        }

        return decimal.TryParse(
            text,
            NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
            CultureInfo.InvariantCulture,
            out var number
        )
            ? Scaled(type, number, factor)
            : null;
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
    public static string Written(FieldType type, string canonical, decimal factor, char mark)
    {
        if (!IsNumber(type))
            return canonical;
        var number = Unscaled(canonical, factor);
        var text =
            type == FieldType.Money && factor == 1
                ? Numbers.WithDecimals(number, 2).ToString(CultureInfo.InvariantCulture)
                : number.ToString(CultureInfo.InvariantCulture);
        return mark == '.' ? text : text.Replace('.', mark);
    }

    /// <summary>Narbit's number as the system's.</summary>
    public static decimal Unscaled(string canonical, decimal factor)
    {
        var value = decimal.Parse(canonical, CultureInfo.InvariantCulture) / factor;
        return value == decimal.Truncate(value) ? decimal.Truncate(value) : value;
    }
}
