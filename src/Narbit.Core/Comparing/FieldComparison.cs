using System.Globalization;
using Narbit.Core.Records;

namespace Narbit.Core.Comparing;

/// <summary>Compares two values of a field by what they mean.</summary>
public static class FieldComparison
{
    /// <summary>Whether two canonical values mean the same: numbers by value (1.0 is 1.00), instants by instant, the rest to the letter. Missing equals missing only.</summary>
    /// <param name="type">The field's type.</param>
    /// <param name="one">A value, or null.</param>
    /// <param name="other">A value, or null.</param>
    public static bool Same(FieldType type, string? one, string? other)
    {
        if (one is null || other is null) return one is null && other is null;
        return type switch
        {
            FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight =>
                decimal.TryParse(one, NumberStyles.Number, CultureInfo.InvariantCulture, out var a)
                && decimal.TryParse(other, NumberStyles.Number, CultureInfo.InvariantCulture, out var b)
                    ? a == b
                    : string.Equals(one, other, StringComparison.Ordinal),
            FieldType.Instant =>
                DateTimeOffset.TryParse(one, CultureInfo.InvariantCulture, out var a) && DateTimeOffset.TryParse(other, CultureInfo.InvariantCulture, out var b) && a == b,
            _ => string.Equals(one, other, StringComparison.Ordinal),
        };
    }
}
