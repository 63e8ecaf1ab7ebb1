using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>
/// The parts of an act as they are done. The act is written before its first part, and each part as soon as it is done, so that what was
/// done can be taken back whatever becomes of whoever did it.
/// </summary>
/// <param name="store">Where acts are.</param>
/// <param name="act">The act's number.</param>
/// <param name="way">The way out that knows how to take its parts back.</param>
public sealed class ActLog(MismatchStore store, long act, string way)
{
    /// <summary>The act's number.</summary>
    public long ActId => act;

    /// <summary>Notes a part, as JSON.</summary>
    internal Task DoneAsync(string part) => store.AddPartAsync(act, way, part);
}
