using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;

namespace Narbit.Engine.Jobs;

/// <summary>Writes and reads what is kept of jobs as JSON.</summary>
public static class JobJson
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>A timetable as text.</summary>
    public static string? Write(Timetable? timetable) => timetable is null ? null : JsonSerializer.Serialize(timetable, Options);

    /// <summary>A timetable that was kept; null: none was, or it cannot be read.</summary>
    public static Timetable? ReadTimetable(string? text)
    {
        try
        {
            return text is null ? null : JsonSerializer.Deserialize<Timetable>(text, Options);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>A job's document, of what is kept.</summary>
    public static JobDocument Of(Job job) =>
        new()
        {
            Name = job.Name,
            Timetable = ReadTimetable(job.Timetable),
            Lanes = [.. job.Lanes.OrderBy(l => l.Place).Select(l => new LaneInJob(l.LaneId, JsonText.ReadNames(l.Fields)))],
            WhenAtWork = job.WhenAtWork,
            WhenMissed = job.WhenMissed,
            WhenFailed = job.WhenFailed,
            AgainAfterMinutes = job.AgainAfterMinutes,
            AgainTimes = job.AgainTimes,
            AtOnce = job.AtOnce,
            LookEverySeconds = job.LookEverySeconds,
            Off = job.Off,
            OnTop = job.OnTop,
        };

    /// <summary>Puts a document into what is kept.</summary>
    public static void Into(Job job, JobDocument document)
    {
        job.Name = document.Name.Trim();
        job.Timetable = Write(document.Timetable);
        (job.WhenAtWork, job.WhenMissed, job.WhenFailed) = (document.WhenAtWork, document.WhenMissed, document.WhenFailed);
        (job.AgainAfterMinutes, job.AgainTimes) = (document.AgainAfterMinutes, document.AgainTimes);
        (job.AtOnce, job.LookEverySeconds) = (document.AtOnce, document.LookEverySeconds);
        (job.Off, job.OnTop) = (document.Off, document.OnTop);
        job.Lanes =
        [
            .. document.Lanes.Select(
                (l, i) =>
                    new JobLane
                    {
                        JobId = job.Id,
                        LaneId = l.Lane,
                        Place = i,
                        Fields = JsonText.WriteNames(l.Fields),
                    }
            ),
        ];
    }

    /// <summary>Lanes as text.</summary>
    public static string WriteLanes(IReadOnlyList<LaneInJob> lanes) => JsonSerializer.Serialize(lanes, Options);

    /// <summary>Lanes that were kept.</summary>
    public static IReadOnlyList<LaneInJob> ReadLanes(string? text) =>
        text is null ? [] : JsonSerializer.Deserialize<IReadOnlyList<LaneInJob>>(text, Options)!;
}
