using Narbit.Core.Timetables;

namespace Narbit.Engine.Jobs;

/// <summary>Orders and deliveries of a file, on which a timetable is tried.</summary>
/// <param name="From">When it begins.</param>
/// <param name="Stock">Pieces at first, by SKU.</param>
/// <param name="Orders">The orders.</param>
/// <param name="Deliveries">The deliveries.</param>
public sealed record ReplayedFile(
    DateTimeOffset From,
    IReadOnlyDictionary<string, long> Stock,
    IReadOnlyList<ReplayedOrder> Orders,
    IReadOnlyList<ReplayedDelivery> Deliveries
);

/// <summary>What a way of keeping a job's times would have come to.</summary>
public sealed record AdviceOption
{
    /// <summary>Its code: <c>this</c>, <c>atOnce</c>, or <c>every</c> with its minutes.</summary>
    public required string Way { get; init; }

    /// <summary>Minutes between turns; 0: at once. Of clock times the mean.</summary>
    public int Minutes { get; init; }

    /// <summary>Orders that the stores took.</summary>
    public int Accepted { get; init; }

    /// <summary>Orders that were sold and not all there.</summary>
    public int Oversold { get; init; }

    /// <summary>The pieces that they lacked.</summary>
    public long Short { get; init; }

    /// <summary>Orders that were refused though everything was there.</summary>
    public int Missed { get; init; }

    /// <summary>Requests a day to all systems; null: no run has said yet what it takes.</summary>
    public double? RequestsADay { get; init; }

    /// <summary>Requests a day by system, and what share of its limit that is.</summary>
    public required IReadOnlyList<RequestsOfDay> Requests { get; init; }
}

/// <summary>What is asked of a system in a day.</summary>
/// <param name="Name">The system.</param>
/// <param name="ADay">Requests.</param>
/// <param name="LimitADay">What it allows; null: it says nothing of it.</param>
public sealed record RequestsOfDay(string Name, double ADay, double? LimitADay);

/// <summary>An item that hurts.</summary>
public sealed record WorstItem(string Item, string? Reference, string? Caption, int Oversold, long Short, int Missed);

/// <summary>What another part of the stock being shown would have come to, at this timetable.</summary>
public sealed record PartOption(int HoldBack, int Share, int Oversold, int Missed);

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
