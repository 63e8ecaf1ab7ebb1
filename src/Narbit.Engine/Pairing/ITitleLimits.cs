namespace Narbit.Engine.Pairing;

/// <summary>Knows whether titles that are too long for a system become short enough on their way there.</summary>
public interface ITitleLimits
{
    /// <summary>Whether the titles of one system are limited to what another takes.</summary>
    /// <param name="fromId">Where the titles come from.</param>
    /// <param name="there">The other side.</param>
    /// <param name="cancel">Gives up.</param>
    Task<bool> AreLimitedAsync(string fromId, PairSide there, CancellationToken cancel);
}
