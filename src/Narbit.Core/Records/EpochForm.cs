using System.Globalization;

namespace Narbit.Core.Records;

/// <summary>Instants as systems count them since 1970-01-01T00:00:00Z, in place of writing a date.</summary>
public static class EpochForm
{
    /// <summary>Whole seconds.</summary>
    public const string Seconds = "seconds";

    /// <summary>Whole milliseconds.</summary>
    public const string Milliseconds = "milliseconds";

    // To the end of the year 9999, which is as far as instants go.
    private const long MostSeconds = 253_402_300_799;

    /// <summary>Whether a form of dates counts instead of writing them.</summary>
    public static bool Is(string? form) => form is Seconds or Milliseconds;

    /// <summary>An instant as a system counts it.</summary>
    public static long Count(DateTimeOffset instant, string form) =>
        form == Seconds ? instant.ToUnixTimeSeconds() : instant.ToUnixTimeMilliseconds();

    /// <summary>The instant of a count; null where it is none, or before 1970.</summary>
    public static DateTimeOffset? Instant(string text, string form)
    {
        if (!long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var count))
            return null;
        var unit = form == Seconds ? 1 : 1000;
        return count < 0 || count > MostSeconds * unit ? null : DateTimeOffset.UnixEpoch.AddMilliseconds(count * (1000 / unit));
    }
}
