using Narbit.Data.Systems;
using Narbit.Engine.Jobs;

namespace Narbit.Engine.Workspaces.Files;

/// <summary><c>workspace.json</c>: what holds for all, who works here, and which systems there are.</summary>
public sealed record WorkspaceDocument
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/workspace/1";

    /// <summary>The format that it was written in.</summary>
    public required string Format { get; init; }

    /// <summary>What the workspace is called.</summary>
    public required string Name { get; init; }

    /// <summary>The IANA name of its time zone.</summary>
    public required string TimeZone { get; init; }

    /// <summary>ISO 4217.</summary>
    public string? Currency { get; init; }

    /// <summary>ISO 3166-1 alpha-2, for telephone numbers without a country code.</summary>
    public string? Country { get; init; }

    /// <summary>How numbers are written on screen.</summary>
    public NumberForm Numbers { get; init; }

    /// <summary>How dates are written on screen.</summary>
    public DateForm Dates { get; init; }

    /// <summary>The day on which weeks begin.</summary>
    public FirstDay FirstDay { get; init; }

    /// <summary>The short name of the system that the others are kept in step with.</summary>
    public string? Hub { get; init; }

    /// <summary>So many days after they were placed orders are anonymised.</summary>
    public int? AnonymiseAfterDays { get; init; }

    /// <summary>The days on which no job begins by the clock; missing: none.</summary>
    public IReadOnlyList<WorkspaceDayOff>? DaysOff { get; init; }

    /// <summary>The people who work here.</summary>
    public required IReadOnlyList<Person> People { get; init; }

    /// <summary>The systems; each is described in a file of its own.</summary>
    public required IReadOnlyList<WorkspaceSystem> Systems { get; init; }
}

/// <summary><c>jobs/ID.json</c>: which lanes run in which order, and when.</summary>
internal sealed record WorkspaceJob
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/workspace-job/1";

    /// <summary>The format that it was written in.</summary>
    public required string Format { get; init; }

    /// <summary>The job.</summary>
    public required JobDocument Job { get; init; }
}
