namespace Narbit.Adapters;

/// <summary>What a person has granted Narbit at a system.</summary>
public interface IGrant
{
    /// <summary>What tokens are fetched with now, see <see cref="Rest.AccessRequest"/>; null: nothing, or it was lost.</summary>
    string? Kept { get; }

    /// <summary>The system gave another in its place.</summary>
    void Renewed(string kept);

    /// <summary>The system does not take it any more. What was kept in its place meanwhile stays.</summary>
    /// <param name="refused">What the system did not take.</param>
    /// <param name="why">In words.</param>
    void Lost(string refused, string why);

    /// <summary>One renewal at a time, whoever asks: many systems give up what was granted when it is used twice.</summary>
    SemaphoreSlim Turn { get; }
}
