using Narbit.Core.Guarding;

namespace Narbit.Engine.Lanes;

/// <summary>A whole lane as a file: what it takes, its document, its guards, and what the two sides look like.</summary>
public sealed record LaneFile
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/lane/2";

    /// <summary>The format's earlier version, in which the document had no kind of its own.</summary>
    public const string EarlierFormat = "narbit/lane/1";

    /// <summary>The format that it was written in; what is written now is <see cref="CurrentFormat"/>.</summary>
    public required string Format { get; init; }

    /// <summary>A name for people.</summary>
    public string? Name { get; init; }

    /// <summary>The source.</summary>
    public LaneFileSide Source { get; init; } = new();

    /// <summary>The target.</summary>
    public LaneFileSide Target { get; init; } = new();

    /// <summary>Only items whose SKU starts with this.</summary>
    public string? SkuStartsWith { get; init; }

    /// <summary>Only listings that buyers can see.</summary>
    public bool PublishedOnly { get; init; }

    /// <summary>What the lane goes by: its kind, and the rule or map.</summary>
    public required LaneDocument Document { get; init; }

    /// <summary>The guards' limits; missing: the usual ones.</summary>
    public GuardLimits? Guards { get; init; }
}
