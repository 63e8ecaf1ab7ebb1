using NodaTime;
using NodaTime.Text;
using NodaTime.TimeZones;

namespace Narbit.Core.Timetables;

/// <summary>
/// The instants of a timetable. A clock time that does not exist on a day is the first instant after the gap; of one that comes twice it
/// is the first.
/// </summary>
public sealed class TimetableTimes
{
    /// <summary>The code of what is wrong with a timetable.</summary>
    public const string Invalid = "timetable.invalid";

    /// <summary>So many days ahead are looked through.</summary>
    public const int MostDays = 400;

    private const int MostMinutes = 24 * 60;

    private static readonly ZoneLocalMappingResolver Resolver = Resolvers.CreateMappingResolver(
        Resolvers.ReturnEarlier,
        Resolvers.ReturnStartOfIntervalAfter
    );

    private readonly DateTimeZone _zone;
    private readonly IReadOnlyList<LocalTime> _at;
    private readonly Steps? _every;
    private readonly Func<LocalDate, bool> _counts;

    private TimetableTimes(DateTimeZone zone, IReadOnlyList<LocalTime> at, Steps? every, Func<LocalDate, bool> counts)
    {
        (_zone, _at, _every, _counts) = (zone, at, every, counts);
    }

    /// <summary>The instants after one, in their order; none later than 400 days after it.</summary>
    public IEnumerable<DateTimeOffset> After(DateTimeOffset after)
    {
        var start = Instant.FromDateTimeOffset(after);
        var end = start + Duration.FromDays(MostDays);
        var last = start;
        // A window of the day before may reach into this one.
        for (var day = start.InZone(_zone).Date.PlusDays(-2); InstantOf(day + LocalTime.Midnight) <= end; day = day.PlusDays(1))
        {
            if (!_counts(day))
                continue;
            foreach (var instant in On(day).Where(i => i > last && i <= end))
            {
                last = instant;
                yield return instant.ToDateTimeOffset();
            }
        }
    }

    private IEnumerable<Instant> On(LocalDate day) =>
        _every is { } steps ? InSteps(day, steps) : _at.Select(time => InstantOf(day + time)).Order();

    private IEnumerable<Instant> InSteps(LocalDate day, Steps steps)
    {
        var end = InstantOf((steps.To > steps.From ? day : day.PlusDays(1)) + steps.To);
        for (var at = InstantOf(day + steps.From); at < end; at += steps.Length)
            yield return at;
    }

    private Instant InstantOf(LocalDateTime clock) => _zone.ResolveLocal(clock, Resolver).ToInstant();

    /// <summary>Reads a timetable.</summary>
    internal static Outcome<TimetableTimes> Of(Timetable timetable)
    {
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(timetable.Zone) is not { } zone)
            return Fault($"zone: “{timetable.Zone}” is no time zone that is known here; one is Europe/Dublin.");
        if (timetable.At is null == timetable.Every is null)
            return Fault("give either clock times (at) or equal steps (every).");
        var at = ClockTimes(timetable.At ?? []);
        if (at.Fault is { } unread)
            return unread;
        var every = timetable.Every is null ? default(Outcome<Steps?>) : StepsOf(timetable.Every);
        if (every.Fault is { } wrong)
            return wrong;
        var counts = Counting(timetable);
        return counts.Fault is { } fault ? fault : new TimetableTimes(zone, at.Value, every.ValueOrDefault, counts.Value);
    }

    private static Outcome<IReadOnlyList<LocalTime>> ClockTimes(IReadOnlyList<string> at)
    {
        var times = new List<LocalTime>(at.Count);
        foreach (var text in at)
        {
            if (Clock(text) is not { } time)
                return Fault($"at: “{text}” is no clock time; one is 06:30.");
            times.Add(time);
        }

        return times;
    }

    private static Outcome<Steps?> StepsOf(TimetableSteps every)
    {
        if (every.Minutes is < 1 or > MostMinutes)
            return Fault($"every.minutes: must be from 1 to {MostMinutes}.");
        if (every.From is null != every.To is null)
            return Fault("every: give from and to, or neither.");
        if (every.From is null)
            return new Steps(Duration.FromMinutes(every.Minutes), LocalTime.Midnight, LocalTime.Midnight);
        if (Clock(every.From) is not { } from)
            return Fault($"every.from: “{every.From}” is no clock time; one is 06:30.");
        if (Clock(every.To!) is not { } to)
            return Fault($"every.to: “{every.To}” is no clock time; one is 22:30.");
        return new Steps(Duration.FromMinutes(every.Minutes), from, to);
    }

    private static Outcome<Func<LocalDate, bool>> Counting(Timetable timetable)
    {
        if (timetable.Days is { Count: 0 })
            return Fault("days: none is left; leave it out for all, or name one.");
        var except = new HashSet<LocalDate>();
        foreach (var text in timetable.Except ?? [])
        {
            if (Date(text) is not { } day)
                return Fault($"except: “{text}” is no date; one is 2026-12-24.");
            except.Add(day);
        }

        if (timetable.Starts is { } starts && Date(starts) is null)
            return Fault($"starts: “{starts}” is no date; one is 2026-12-24.");
        if (timetable.Ends is { } ends && Date(ends) is null)
            return Fault($"ends: “{ends}” is no date; one is 2026-12-24.");
        var (first, last) = (Date(timetable.Starts ?? ""), Date(timetable.Ends ?? ""));
        var days = timetable.Days?.ToHashSet();
        return Outcome.Of<Func<LocalDate, bool>>(day =>
            days?.Contains(WeekdayOf(day)) != false && !except.Contains(day) && !(day < first) && !(day > last)
        );
    }

    // NodaTime counts from Monday, 1.
    private static Weekday WeekdayOf(LocalDate day) => (Weekday)((int)day.DayOfWeek - 1);

    private static LocalTime? Clock(string text) =>
        LocalTimePattern.CreateWithInvariantCulture("HH:mm").Parse(text) is { Success: true } read ? read.Value : null;

    private static LocalDate? Date(string text) => LocalDatePattern.Iso.Parse(text) is { Success: true } read ? read.Value : null;

    private static Reason Fault(string words) => new(Invalid, words);

    private sealed record Steps(Duration Length, LocalTime From, LocalTime To);
}
