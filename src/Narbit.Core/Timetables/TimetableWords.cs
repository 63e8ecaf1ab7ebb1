using System.Globalization;
using NodaTime;
using NodaTime.Text;
using NodaTime.TimeZones;

namespace Narbit.Core.Timetables;

/// <summary>Says a timetable in words, and what of it a person might not expect.</summary>
public static class TimetableWords
{
    // Clocks are changed twice a year; what they do to a timetable is looked for this far ahead.
    private const int LooksAhead = 366;

    private static readonly CultureInfo Plain = CultureInfo.InvariantCulture;

    /// <summary>The timetable in words, e.g. <c>every 15 minutes from 06:00 to 22:00, Mon to Fri</c>.</summary>
    public static string Of(Timetable timetable)
    {
        var words = timetable.Every is { } every ? Steps(every) : $"at {Listed([.. (timetable.At ?? []).Order(StringComparer.Ordinal)])}";
        if (Days(timetable.Days) is { } days)
            words += $", {days}";
        if (timetable.Except is { Count: > 0 } except)
            words += $", not on {Listed(except)}";
        if (timetable.Starts is { } starts)
            words += $", from {starts}";
        if (timetable.Ends is { } ends)
            words += $", until {ends}";
        return words;
    }

    /// <summary>What a person might not expect of a timetable that is valid, a sentence each; none: nothing.</summary>
    /// <param name="timetable">The timetable.</param>
    /// <param name="now">The instant from which on it counts.</param>
    public static IReadOnlyList<string> Surprises(Timetable timetable, DateTimeOffset now)
    {
        var found = new List<string>();
        if (timetable.Times().ValueOrDefault is not { } times)
            return found;
        if (Renamed(timetable.Zone) is { } name)
            found.Add($"The zone {timetable.Zone} is called {name} now; the times are the same.");
        if (timetable.Every is { } every && OnlyOnce(every))
            found.Add($"{every.Minutes} minutes are longer than the time from {every.From} to {every.To}: it runs once, at {every.From}.");
        if (timetable.Every is { From: null } steps && 24 * 60 % steps.Minutes != 0)
            found.Add(
                $"A day has no whole number of {steps.Minutes} minutes: every day begins anew at midnight, so the last step is shorter."
            );
        found.AddRange(Changes(timetable, now));
        if (!times.After(now).Any())
            found.Add($"It has no time in the next {TimetableTimes.MostDays} days.");
        return found;
    }

    // Those clock times that a change of the clocks leaves out or brings twice.
    private static IEnumerable<string> Changes(Timetable timetable, DateTimeOffset now)
    {
        if (timetable.At is not { } at || DateTimeZoneProviders.Tzdb.GetZoneOrNull(timetable.Zone) is not { } zone)
            yield break;
        var from = Instant.FromDateTimeOffset(now);
        foreach (var interval in zone.GetZoneIntervals(from, from + Duration.FromDays(LooksAhead)).Skip(1))
        foreach (var text in at)
            if (
                LocalTimePattern.CreateWithInvariantCulture("HH:mm").Parse(text) is { Success: true } clock
                && Change(zone, interval, clock.Value) is { } words
            )
                yield return words;
    }

    private static string? Change(DateTimeZone zone, ZoneInterval interval, LocalTime clock)
    {
        var before = interval.Start.InZone(zone).LocalDateTime;
        var day = before.Date;
        var map = zone.MapLocal(day + clock);
        var date = LocalDatePattern.Iso.Format(day);
        return map.Count switch
        {
            0 => $"On {date} the clocks go forward and {Text(clock)} does not exist: it runs at {Text(before.TimeOfDay)}.",
            2 => $"On {date} the clocks go back and {Text(clock)} comes twice: it runs the first time.",
            _ => null,
        };
    }

    private static string Text(LocalTime clock) => clock.ToString("HH:mm", Plain);

    private static string? Renamed(string zone) =>
        TzdbDateTimeZoneSource.Default.CanonicalIdMap.TryGetValue(zone, out var canonical)
        && !string.Equals(canonical, zone, StringComparison.Ordinal)
        && zone != "UTC"
            ? canonical
            : null;

    private static bool OnlyOnce(TimetableSteps every)
    {
        if (every.From is null || every.To is null)
            return false;
        var (from, to) = (TimeOnly.ParseExact(every.From, "HH:mm", Plain), TimeOnly.ParseExact(every.To, "HH:mm", Plain));
        // The difference of clock times wraps around midnight by itself; none at all is a whole day.
        var window = from == to ? TimeSpan.FromDays(1) : to - from;
        return window <= TimeSpan.FromMinutes(every.Minutes);
    }

    private static string Steps(TimetableSteps every)
    {
        var step = every.Minutes switch
        {
            1 => "every minute",
            60 => "every hour",
            _ when every.Minutes % 60 == 0 => $"every {every.Minutes / 60} hours",
            _ => $"every {every.Minutes} minutes",
        };
        return every.From is null ? $"{step}, all day" : $"{step} from {every.From} to {every.To}";
    }

    private static string? Days(IReadOnlyList<Weekday>? days)
    {
        var kept = (days ?? Enum.GetValues<Weekday>()).Distinct().Order().ToList();
        var left = Enum.GetValues<Weekday>().Except(kept).ToList();
        return left.Count switch
        {
            0 => null,
            1 => $"every day but {Full(left[0])}",
            _ when kept.Count > 2 && kept[^1] - kept[0] == kept.Count - 1 => $"{kept[0]} to {kept[^1]}",
            _ => Listed([.. kept.Select(d => d.ToString())]),
        };
    }

    private static string Full(Weekday day) => ((DayOfWeek)(((int)day + 1) % 7)).ToString();

    private static string Listed(IReadOnlyList<string> words) =>
        words.Count < 2 ? string.Concat(words) : $"{string.Join(", ", words.SkipLast(1))} and {words[^1]}";
}
