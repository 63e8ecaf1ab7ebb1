using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Timetables;
using Narbit.Data.Jobs;

namespace Narbit.Engine.Jobs;

/// <summary>A lane as a job has it.</summary>
/// <param name="Lane">The lane's short name.</param>
/// <param name="Fields">The only fields of the target that its runs write; null: all that the lane writes.</param>
public sealed record LaneInJob(string Lane, IReadOnlyList<string>? Fields = null);

/// <summary>A job as a person says it, and as files keep it.</summary>
public sealed record JobDocument
{
    /// <summary>What it is called, 1 to 60 characters.</summary>
    public required string Name { get; init; }

    /// <summary>When it begins by itself; null: not by the clock.</summary>
    public Timetable? Timetable { get; init; }

    /// <summary>Its lanes, in the order in which they go; at least one.</summary>
    public required IReadOnlyList<LaneInJob> Lanes { get; init; }

    /// <summary>What becomes of a time at which its last turn is still at work.</summary>
    public WhenAtWork WhenAtWork { get; init; }

    /// <summary>What becomes of times that passed while Narbit was not running.</summary>
    public WhenMissed WhenMissed { get; init; }

    /// <summary>What becomes of a turn in which a lane fails.</summary>
    public WhenFailed WhenFailed { get; init; }

    /// <summary>Minutes before a lane that failed is tried again, 1 to 1440.</summary>
    public int AgainAfterMinutes { get; init; } = 5;

    /// <summary>How often a lane that failed is tried again, 1 to 20.</summary>
    public int AgainTimes { get; init; } = 2;

    /// <summary>Whether it also begins at once when something happens that it is about.</summary>
    public bool AtOnce { get; init; }

    /// <summary>How often the change lists of its sources are read for what nothing else tells of, 2 to 3600 seconds; null: not.</summary>
    public int? LookEverySeconds { get; init; }

    /// <summary>Whether it does nothing by itself.</summary>
    public bool Off { get; init; }

    /// <summary>Whether lists show it first.</summary>
    public bool OnTop { get; init; }
}

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
            Lanes = [.. job.Lanes.OrderBy(l => l.Place).Select(l => new LaneInJob(l.LaneId, ReadList(l.Fields)))],
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
                        Fields = WriteList(l.Fields),
                    }
            ),
        ];
    }

    /// <summary>Lanes as text.</summary>
    public static string WriteLanes(IReadOnlyList<LaneInJob> lanes) => JsonSerializer.Serialize(lanes, Options);

    /// <summary>Lanes that were kept.</summary>
    public static IReadOnlyList<LaneInJob> ReadLanes(string? text) =>
        text is null ? [] : JsonSerializer.Deserialize<IReadOnlyList<LaneInJob>>(text, Options)!;

    /// <summary>A list of names as text; null: there is none, or it is empty.</summary>
    public static string? WriteList(IReadOnlyList<string>? names) =>
        names is { Count: > 0 } ? JsonSerializer.Serialize(names, Options) : null;

    /// <summary>A list of names that was kept.</summary>
    public static IReadOnlyList<string>? ReadList(string? text) =>
        text is null ? null : JsonSerializer.Deserialize<IReadOnlyList<string>>(text, Options);
}
