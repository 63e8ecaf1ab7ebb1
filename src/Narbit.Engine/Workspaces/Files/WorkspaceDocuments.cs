using System.Text.Json.Serialization;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Data.Pairs;
using Narbit.Data.Systems;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;

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

/// <summary>A day on which no job begins by the clock.</summary>
/// <param name="Date">The local date, ISO 8601.</param>
/// <param name="Name">What it is.</param>
public sealed record WorkspaceDayOff(string Date, string? Name);

/// <summary>What may be done with a system, whose description is <c>systems/ID.json</c>.</summary>
public sealed record WorkspaceSystem
{
    /// <summary>Its short name.</summary>
    public required string Id { get; init; }

    /// <summary>Whether it may be read.</summary>
    public bool MayRead { get; init; } = true;

    /// <summary>Whether it may be written.</summary>
    public bool MayWrite { get; init; }

    /// <summary>Whether it is read as a whole at least once a day.</summary>
    public bool ReadsWholeDaily { get; init; } = true;

    /// <summary>Whether it is neither read nor written for now.</summary>
    public bool Paused { get; init; }
}

/// <summary><c>lanes/ID.json</c>: what flows from where to where, by which rule or map, and when.</summary>
public sealed record WorkspaceLane
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/workspace-lane/1";

    /// <summary>The format that it was written in.</summary>
    public required string Format { get; init; }

    /// <summary>The source's short name.</summary>
    public required string From { get; init; }

    /// <summary>The target's short name.</summary>
    public required string To { get; init; }

    /// <summary>What people call it.</summary>
    public string? Name { get; init; }

    /// <summary>Only items whose SKU starts with this.</summary>
    public string? SkuStartsWith { get; init; }

    /// <summary>Only listings that buyers can see.</summary>
    public bool PublishedOnly { get; init; }

    /// <summary>The source's records that are left alone.</summary>
    public IReadOnlyList<string> KeptOff { get; init; } = [];

    /// <summary>Minutes between runs, from before there were jobs: it is read as a job of the lane's own. Missing: nothing.</summary>
    public int? EveryMinutes { get; init; }

    /// <summary>Whether its job leaves it out.</summary>
    public bool Paused { get; init; }

    /// <summary>Whether it never sends.</summary>
    public bool Off { get; init; }

    /// <summary>What the version in force says of itself.</summary>
    public string? Note { get; init; }

    /// <summary>What the lane goes by: its kind, and the rule or map with its crosswalks.</summary>
    public required LaneDocument Document { get; init; }

    /// <summary>The guards' limits; missing: the usual ones.</summary>
    public GuardLimits? Guards { get; init; }
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

/// <summary>
/// <c>pairs/KIND-HUB-OTHER.json</c>: how two systems are paired. The pairs themselves are the table beside it, see
/// <see cref="WorkspacePairLine"/>.
/// </summary>
public sealed record WorkspacePairs
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/workspace-pairs/1";

    /// <summary>The format that it was written in.</summary>
    public required string Format { get; init; }

    /// <summary>The kind of record.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>The hub's short name.</summary>
    public required string Hub { get; init; }

    /// <summary>The other system's.</summary>
    public required string Other { get; init; }

    /// <summary>Whether certain pairs are linked without being asked for.</summary>
    public bool AcceptsCertain { get; init; }

    /// <summary>How the first stock-taking was done; missing: not yet.</summary>
    public StockTakingWay? Way { get; init; }

    /// <summary>What the other system's SKUs have before the hub's.</summary>
    public string? HabitBefore { get; init; }

    /// <summary>What the other system's SKUs have after the hub's.</summary>
    public string? HabitAfter { get; init; }
}

/// <summary>A line of <c>pairs/KIND-HUB-OTHER.csv</c>.</summary>
/// <param name="HubKey">The hub's record.</param>
/// <param name="OtherKey">The other system's.</param>
/// <param name="What">What is decided.</param>
/// <param name="Quantity">How many of the hub's record one of the other stands for.</param>
/// <param name="Reason">Of what is set aside: why.</param>
public readonly record struct WorkspacePairLine(string? HubKey, string? OtherKey, PairLineKind What, decimal Quantity, string? Reason);

/// <summary>What a line of a pair table says.</summary>
[JsonConverter(typeof(Narbit.Core.CamelCaseEnum<PairLineKind>))]
public enum PairLineKind
{
    /// <summary>The two are one.</summary>
    Pair,

    /// <summary>The hub's record is a part of the other's, which is a kit.</summary>
    Part,

    /// <summary>The record has no partner on purpose.</summary>
    Aside,

    /// <summary>The record is to be created on the other side.</summary>
    Create,
}
