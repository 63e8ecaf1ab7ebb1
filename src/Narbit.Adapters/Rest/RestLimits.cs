namespace Narbit.Adapters.Rest;

/// <summary>What the system can bear.</summary>
public sealed record RestLimits
{
    /// <summary>The most requests a second that Narbit makes.</summary>
    public double RequestsPerSecond { get; init; } = 10;

    /// <summary>How long to wait for a reply.</summary>
    public double TimeoutSeconds { get; init; } = 30;

    /// <summary>How often a request is tried in all.</summary>
    public int Attempts { get; init; } = 5;

    /// <summary>
    /// The header that says how many requests are left, where it is not <c>RateLimit-Remaining</c>; together with
    /// <see cref="ResetHeader"/> it makes Narbit wait before the system has to refuse.
    /// </summary>
    public string? RemainingHeader { get; init; }

    /// <summary>
    /// The header that says when there are requests again, where it is not <c>RateLimit-Reset</c>: in how many seconds, or the second
    /// since 1970.
    /// </summary>
    public string? ResetHeader { get; init; }
}
