namespace Narbit.Engine.Lanes;

/// <summary>One side of a lane file.</summary>
public sealed record LaneFileSide
{
    /// <summary>The system's name.</summary>
    public string? System { get; init; }

    /// <summary>In a table: the column with what tells records apart, and by which the two sides are matched.</summary>
    public string Key { get; init; } = "key";

    /// <summary>The fields; none: every column of the table is text that may be written.</summary>
    public IReadOnlyList<LaneFileField> Fields { get; init; } = [];
}
