using Narbit.Data;

namespace Narbit.Engine.Lanes;

/// <summary>What a kind of lane keeps of every record that it looks at, beside what it writes.</summary>
public interface ILaneLedger
{
    /// <summary>Notes what was computed of a pair.</summary>
    void Note(LanePair pair, Computed computed);

    /// <summary>Keeps what was noted.</summary>
    /// <returns>How many stand otherwise than before.</returns>
    Task<int> StoreAsync(Database database, CancellationToken cancel);
}
