using System.Globalization;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;

namespace Narbit.Engine.Jobs;

/// <summary>Does what a person asks of a job, and says what follows from it.</summary>
public static class JobActs
{
    private const int MostSkipped = 1000;

    /// <summary>What a job does by itself, in words.</summary>
    public static string Words(Job job)
    {
        var timetable = JobJson.ReadTimetable(job.Timetable);
        return (job, timetable) switch
        {
            ({ Off: true }, _) => "It is switched off and runs only when somebody says so.",
            ({ AtOnce: true }, null) => "It runs at once when something happens that it is about.",
            (_, null) => "It runs only when somebody says so.",
            ({ AtOnce: true }, _) => $"It runs {TimetableWords.Of(timetable)} ({timetable.Zone}), and at once when something happens.",
            _ => $"It runs {TimetableWords.Of(timetable)} ({timetable.Zone}).",
        };
    }

    /// <summary>Does it to a job that is in hand.</summary>
    /// <returns>What follows, in words; or why it cannot be done.</returns>
    public static Outcome<string> Do(Job job, JobAct act, DateTimeOffset now, IReadOnlyList<string> daysOff, bool atWork)
    {
        switch (act.Kind)
        {
            case JobActKind.RunNow:
                return atWork
                    ? "It is at work; it runs once more as soon as that is over. The timetable stays as it is."
                    : "It runs now. The timetable stays as it is.";
            case JobActKind.Skip:
                return Skip(job, act.Count ?? 1, now, daysOff);
            case JobActKind.Pause:
                return Pause(job, act.Until, now);
            case JobActKind.GoOn:
                (job.PausedUntil, job.SkipNext) = (null, 0);
                return $"It goes on; nothing is left out. {Words(job)}";
            case JobActKind.SwitchOff:
                job.Off = true;
                return "It does nothing by itself until somebody switches it on. Its lanes can be run by hand.";
            case JobActKind.SwitchOn:
                if (job.Off)
                    (job.Off, job.SettledUntil) = (false, now);
                return $"It is switched on. What it would have done meanwhile is not made up for. {Words(job)}";
            case JobActKind.KeepOnTop or JobActKind.LetDown:
                job.OnTop = act.Kind == JobActKind.KeepOnTop;
                return job.OnTop ? "It stands at the top of the timetable." : "It stands in its place in the timetable.";
            default:
                job.Notice = null;
                return "Read.";
        }
    }

    private static Outcome<string> Skip(Job job, int count, DateTimeOffset now, IReadOnlyList<string> daysOff)
    {
        if (count is < 0 or > MostSkipped)
            return new Reason("job.skip", $"From 0 to {MostSkipped} times can be left out.");
        if (job.Off)
            return new Reason("job.off", "It is switched off, so there is no next time that could be left out.");
        job.SkipNext = 0;
        var times = JobTimes.Coming(job, daysOff, now).Take(count).ToList();
        if (times.Count < count)
            return new Reason("job.skip", $"It has only {times.Count} times to come that could be left out.");
        job.SkipNext = count;
        return count switch
        {
            0 => "Nothing is left out.",
            1 => $"The run of {Text(job, times[0])} is left out.",
            _ => $"The next {count} runs are left out, from {Text(job, times[0])} to {Text(job, times[^1])}.",
        };
    }

    private static Outcome<string> Pause(Job job, DateTimeOffset? until, DateTimeOffset now)
    {
        if (until <= now)
            return new Reason("job.pause", $"{Text(job, until.Value)} is over already; pause until a time to come.");
        job.PausedUntil = until?.ToUniversalTime() ?? DateTimeOffset.MaxValue;
        var meanwhile = "What would have run meanwhile is not made up for.";
        return until is { } end
            ? $"It is paused until {Text(job, end)}. {meanwhile}"
            : $"It is paused until somebody lets it go on. {meanwhile}";
    }

    // By the clock of the job's own zone.
    private static string Text(Job job, DateTimeOffset at)
    {
        var zone = JobJson.ReadTimetable(job.Timetable)?.Zone;
        var local =
            zone is not null && TimeZoneInfo.TryFindSystemTimeZoneById(zone, out var known)
                ? TimeZoneInfo.ConvertTime(at, known)
                : at.ToUniversalTime();
        return local.ToString("ddd yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
    }
}
