using System.Globalization;

namespace Narbit.Core.Mapping;

/// <summary>Looks at a value as a filter or a condition says.</summary>
public static class Tested
{
    /// <summary>Whether a value passes. Numbers compare by value, instants by instant, text without regard to case.</summary>
    /// <param name="test">How it is looked at.</param>
    /// <param name="stored">The value in canonical form, or null.</param>
    public static bool Holds(MapFilter test, string? stored)
    {
        var (value, against) = (stored ?? "", test.Value ?? "");
        return test.Is switch
        {
            Test.Empty => string.IsNullOrWhiteSpace(value),
            Test.NotEmpty => !string.IsNullOrWhiteSpace(value),
            Test.Equals => Same(value, against),
            Test.NotEquals => !Same(value, against),
            Test.Contains => value.Contains(against, StringComparison.OrdinalIgnoreCase),
            Test.OneOf => against.Split(';', StringSplitOptions.TrimEntries).Any(one => Same(value, one)),
            Test.Under => Under(value, against),
            Test.Greater => Order(value, against) > 0,
            _ => Order(value, against) < 0,
        };
    }

    private static bool Same(string one, string other) =>
        Number(one) is { } a && Number(other) is { } b ? a == b : string.Equals(one, other, StringComparison.OrdinalIgnoreCase);

    private static bool Under(string value, string branch) =>
        value.StartsWith(branch, StringComparison.OrdinalIgnoreCase)
        && (value.Length == branch.Length || !char.IsLetterOrDigit(value[branch.Length..].TrimStart()[0]));

    // Null, and so neither greater nor less, where one of the two is missing or they are not of a kind.
    private static int? Order(string one, string other)
    {
        if (one.Length == 0 || other.Length == 0)
            return null;
        if (Number(one) is { } a && Number(other) is { } b)
            return a.CompareTo(b);
        return Instant(one) is { } at && Instant(other) is { } mark ? at.CompareTo(mark) : null;
    }

    private static decimal? Number(string text) =>
        decimal.TryParse(text, NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var number)
            ? number
            : null;

    private static DateTimeOffset? Instant(string text) =>
        DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at) ? at : null;
}
