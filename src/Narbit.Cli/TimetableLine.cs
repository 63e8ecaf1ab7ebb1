using System.Buffers;
using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Timetables;

namespace Narbit.Cli;

/// <summary>A line of a case file with a timetable.</summary>
/// <param name="Timetable">The timetable.</param>
/// <param name="After">Times after this instant are wanted.</param>
/// <param name="Count">How many.</param>
/// <param name="Skip">How many of the first are left out.</param>
/// <param name="Expect">Left unread; there so that case files can carry it.</param>
internal sealed record TimetableCase(Timetable? Timetable, DateTimeOffset? After, int? Count, int? Skip, JsonElement? Expect);

/// <summary>Times of timetables.</summary>
internal static class TimetableLine
{
    /// <summary>Computes a line.</summary>
    public static void Compute(ReadOnlySpan<byte> line, ArrayBufferWriter<byte> results)
    {
        var (timetable, after, count, skip, _) =
            JsonSerializer.Deserialize<TimetableCase>(line, RuleJson.Options) ?? throw new ArgumentException("the line is empty");
        if (timetable is null)
            throw new ArgumentException("“timetable” is missing");
        if (after is null)
            throw new ArgumentException("“after” is missing");
        if (count is null or < 0 || skip < 0)
            throw new ArgumentException("“count” is missing, or “count” or “skip” is less than 0");
        var times = timetable.Times();
        if (times.Fault is { } fault)
            throw new ArgumentException($"timetable.{fault.Words.TrimEnd('.')}");
        using var json = new Utf8JsonWriter(results);
        json.WriteStartObject();
        json.WriteStartArray("times");
        foreach (var time in times.Value.After(after.Value).Skip(skip ?? 0).Take(count.Value))
            json.WriteStringValue(time.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture));
        json.WriteEndArray();
        json.WriteEndObject();
    }
}
