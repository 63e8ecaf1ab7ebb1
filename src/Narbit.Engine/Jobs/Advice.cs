namespace Narbit.Engine.Jobs;

/// <summary>What a timetable would have cost on orders that happened.</summary>
public sealed record Advice
{
    /// <summary>It in one sentence.</summary>
    public required string Sentence { get; init; }

    /// <summary>How many days are looked back.</summary>
    public int Days { get; init; }

    /// <summary>How many lines of orders it was tried on.</summary>
    public int Orders { get; init; }

    /// <summary>This timetable first, then the others.</summary>
    public required IReadOnlyList<AdviceOption> Options { get; init; }

    /// <summary>The items that hurt most, the worst first.</summary>
    public required IReadOnlyList<WorstItem> Items { get; init; }

    /// <summary>Orders that went wrong by the hour of the workspace's clock, 24 numbers.</summary>
    public required IReadOnlyList<int> Hours { get; init; }

    /// <summary>What showing less would have come to.</summary>
    public required IReadOnlyList<PartOption> Parts { get; init; }

    /// <summary>What was taken for granted, a sentence each.</summary>
    public required IReadOnlyList<string> Assumes { get; init; }
}
