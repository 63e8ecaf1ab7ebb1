namespace Narbit.Core.Mismatches;

/// <summary>A way out of a mismatch that was computed.</summary>
/// <param name="Act">What would be done, a stable word for programs, e.g. <c>pair</c>.</param>
/// <param name="Words">What would be done, for people.</param>
/// <param name="Because">Why that is likely right; null: it is the only way there is.</param>
/// <param name="Confidence">From 0 to 1.</param>
/// <param name="Value">What is chosen by it: a record, a code, a value; null: nothing is chosen.</param>
/// <param name="Learns">Whether it also holds for what comes later and is alike.</param>
public sealed record Suggestion(string Act, string Words, string? Because, double Confidence, string? Value = null, bool Learns = false)
{
    /// <summary>What it would do beyond this one, and which older rule it would replace, for people; null: nothing.</summary>
    public string? Effect { get; init; }
}
