using Narbit.Core.Guarding;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Workspaces.Files;

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
