using Narbit.Core.Mismatches;
using Narbit.Core.Telling;

namespace Narbit.Data.Telling;

/// <summary>When somebody wants to be told of a cause, or of all that does some harm; where there is none, as is usual.</summary>
public sealed class Wish
{
    public required string Person { get; set; }

    public Harm Harm { get; set; }

    /// <summary>The cause; empty: all others of the harm.</summary>
    public string Cause { get; set; } = "";

    public WhenTold When { get; set; }
}
