using System.Globalization;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;

namespace Narbit.Engine.Jobs;

/// <summary>Says what is wrong with a job before it is kept.</summary>
public static class JobCheck
{
    private const int LongestName = 60;
    private const int LongestShortName = 40;
    private const int MostLanes = 100;

    /// <summary>What is wrong with the document by itself; null: nothing.</summary>
    public static Reason? Fault(JobDocument document)
    {
        if (string.IsNullOrWhiteSpace(document.Name) || document.Name.Trim().Length > LongestName)
            return Invalid($"name: give it a name of 1 to {LongestName} characters.");
        if (document.Lanes.Count is 0 or > MostLanes)
            return Invalid($"lanes: a job has from 1 to {MostLanes} lanes.");
        if (document.Lanes.GroupBy(l => l.Lane, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return Invalid($"lanes: “{twice.Key}” stands here twice; a lane runs once in a turn.");
        if (document.AgainAfterMinutes is < 1 or > 1440)
            return Invalid("againAfterMinutes: must be from 1 to 1440.");
        if (document.AgainTimes is < 1 or > 20)
            return Invalid("againTimes: must be from 1 to 20.");
        if (document.LookEverySeconds is < 2 or > 3600)
            return Invalid("lookEverySeconds: must be from 2 to 3600.");
        return document.Timetable?.Times().Fault;
    }

    /// <summary>What is wrong with the document in this workspace; null: nothing.</summary>
    public static async Task<Reason?> FaultAsync(NarbitContext db, string? id, JobDocument document, CancellationToken cancel)
    {
        if (Fault(document) is { } fault)
            return fault;
        if (id is not null && !await db.Jobs.AnyAsync(j => j.Id == id, cancel))
            return new Reason("job.unknown", $"There is no job “{id}”.");
        var wanted = document.Lanes.Select(l => l.Lane).ToList();
        var known = await db.Lanes.Where(l => wanted.Contains(l.Id)).Select(l => l.Id).ToListAsync(cancel);
        if (wanted.FirstOrDefault(l => !known.Contains(l)) is { } missing)
            return Invalid($"lanes: there is no lane “{missing}”.");
        var elsewhere = await db
            .JobLanes.Where(l => wanted.Contains(l.LaneId) && l.JobId != id)
            .Join(db.Jobs, l => l.JobId, j => j.Id, (l, j) => new { l.LaneId, j.Name })
            .FirstOrDefaultAsync(cancel);
        return elsewhere is null
            ? null
            : new Reason(
                "job.laneElsewhere",
                $"The lane “{elsewhere.LaneId}” is in the job “{elsewhere.Name}”; a lane is in one job only."
            );
    }

    /// <summary>Whether a text is a date, ISO 8601.</summary>
    public static bool IsDate(string text) =>
        DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _);

    /// <summary>A short name for addresses, of what a person calls a job.</summary>
    public static string ShortNameOf(string name)
    {
        var text = new StringBuilder();
        foreach (var letter in name.ToLowerInvariant())
            if (char.IsAsciiLetterOrDigit(letter))
                text.Append(letter);
            else if (text is [.., not '-'])
                text.Append('-');
        var made = text.ToString().Trim('-');
        made = made.Length > LongestShortName ? made[..LongestShortName].Trim('-') : made;
        return made.Length == 0 ? "job" : made;
    }

    private static Reason Invalid(string words) => new("job.invalid", words);
}
