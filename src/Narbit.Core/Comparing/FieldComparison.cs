using System.Globalization;
using Narbit.Core.Mapping;
using Narbit.Core.Mapping.Steps;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>Compares two values of a field by what they mean.</summary>
public static class FieldComparison
{
    /// <summary>
    /// Whether two canonical values mean the same: numbers by value (1.0 is 1.00), instants by instant, HTML by its elements and words,
    /// lists entry by entry, the rest to the letter. Missing equals missing only.
    /// </summary>
    /// <param name="type">The field's type.</param>
    /// <param name="one">A value, or null.</param>
    /// <param name="other">A value, or null.</param>
    public static bool Same(FieldType type, string? one, string? other)
    {
        if (one is null || other is null)
            return one is null && other is null;
        if (string.Equals(one, other, StringComparison.Ordinal))
            return true;
        return type switch
        {
            FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight or FieldType.Length =>
                decimal.TryParse(one, NumberStyles.Number, CultureInfo.InvariantCulture, out var a)
                    && decimal.TryParse(other, NumberStyles.Number, CultureInfo.InvariantCulture, out var b)
                    && a == b,
            FieldType.Instant => DateTimeOffset.TryParse(one, CultureInfo.InvariantCulture, out var a)
                && DateTimeOffset.TryParse(other, CultureInfo.InvariantCulture, out var b)
                && a == b,
            FieldType.Date => DateOnly.TryParse(one, CultureInfo.InvariantCulture, out var a)
                && DateOnly.TryParse(other, CultureInfo.InvariantCulture, out var b)
                && a == b,
            FieldType.Html => HtmlSteps.SaysTheSame(one, other),
            FieldType.List => MapValue.ReadList(one).SequenceEqual(MapValue.ReadList(other), StringComparer.Ordinal),
            _ => false,
        };
    }

    /// <summary>How values of a type are compared, as a person reads it.</summary>
    public static string How(FieldType type) =>
        type switch
        {
            FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight or FieldType.Length =>
                "compared as numbers",
            FieldType.Instant => "compared as instants",
            FieldType.Date => "compared as dates",
            FieldType.Html => "compared as HTML: elements, attributes in any order, words",
            FieldType.List => "compared entry by entry, in order",
            _ => "compared to the letter",
        };
}
