using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches;

/// <summary>What a kind of lane itself knows of its records that need somebody, in place of what its comparisons remark.</summary>
public interface ILaneTroubles
{
    /// <summary>The kind's code.</summary>
    string Kind { get; }

    /// <summary>What needs somebody now.</summary>
    /// <param name="db">Where it is kept.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="cancel">Gives up.</param>
    Task<IEnumerable<FoundMismatch>> OfAsync(NarbitContext db, Lane lane, CancellationToken cancel);
}
