namespace Narbit.Engine.Lanes;

/// <summary>A page of a lane, in the order in which its work goes.</summary>
/// <param name="Key">A stable word for programs, e.g. <c>map</c>.</param>
/// <param name="Label">What a person reads.</param>
/// <param name="IsOptional">Whether the lane works with nothing on it.</param>
public sealed record LaneStep(string Key, string Label, bool IsOptional = false)
{
    /// <summary>What the lane takes.</summary>
    public static LaneStep Scope { get; } = new("scope", "Scope");

    /// <summary>Which record there is which record here.</summary>
    public static LaneStep Pairs { get; } = new("pairs", "Pairs");

    /// <summary>What would stop a run.</summary>
    public static LaneStep Guards { get; } = new("guards", "Guards");

    /// <summary>What would be written.</summary>
    public static LaneStep Preview { get; } = new("preview", "Preview");

    /// <summary>When it runs.</summary>
    public static LaneStep Timetable { get; } = new("timetable", "Timetable");

    /// <summary>What it did.</summary>
    public static LaneStep Runs { get; } = new("runs", "Runs");

    /// <summary>By what it went at any time.</summary>
    public static LaneStep Versions { get; } = new("versions", "Versions");
}
