using System.Globalization;
using Narbit.Adapters.Files;

namespace Narbit.Adapters.Describing;

/// <summary>Where the time stands in the name of a file.</summary>
internal static class FileNameReading
{
    // The longest first, so that a day is not taken where its hour stands beside it.
    private static readonly string[] Forms =
    [
        "yyyy-MM-dd'T'HH-mm-ss",
        "yyyy-MM-dd_HH-mm-ss",
        "yyyy-MM-dd-HH-mm-ss",
        "yyyy-MM-dd_HHmmss",
        "yyyy-MM-dd-HHmmss",
        "yyyyMMdd'T'HHmmss",
        "yyyyMMdd-HHmmss",
        "yyyyMMdd_HHmmss",
        "yyyyMMddHHmmss",
        "yyyyMMdd-HHmm",
        "yyyyMMdd_HHmm",
        "yyyyMMddHHmm",
        "yyyy-MM-dd",
        "dd.MM.yyyy",
        "yyyyMMdd",
    ];

    /// <summary>The name with <c>{time}</c> in it and the form of the time; the name itself where it says none.</summary>
    public static (string File, string? Form) Of(string name)
    {
        foreach (var form in Forms)
        {
            var length = DateTime.UnixEpoch.ToString(form, CultureInfo.InvariantCulture).Length;
            for (var at = 0; at + length <= name.Length; at++)
                if (IsTime(name.Substring(at, length), form))
                    return (string.Concat(name.AsSpan(0, at), FileDocument.Time, name.AsSpan(at + length)), form);
        }

        return (name, null);
    }

    private static bool IsTime(string text, string form) =>
        DateTime.TryParseExact(text, form, CultureInfo.InvariantCulture, DateTimeStyles.None, out var time)
        && time.Year is >= 2000 and < 2100;
}
