namespace Narbit.Engine.Jobs;

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
