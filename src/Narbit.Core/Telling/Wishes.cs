using Narbit.Core.Mismatches;

namespace Narbit.Core.Telling;

/// <summary>
/// When somebody wants to be told of what: a cause by itself goes before all that does its harm, and that before what is usual.
/// </summary>
/// <param name="OfHarms">By harm.</param>
/// <param name="OfCauses">By the code of a cause.</param>
public sealed record Wishes(IReadOnlyDictionary<Harm, WhenTold> OfHarms, IReadOnlyDictionary<string, WhenTold> OfCauses)
{
    /// <summary>When they are told of a cause.</summary>
    public WhenTold Of(MismatchCause cause) => OfCauses.TryGetValue(cause.Code, out var when) ? when : Of(cause.Harm);

    /// <summary>When they are told of what does some harm.</summary>
    public WhenTold Of(Harm harm) => OfHarms.TryGetValue(harm, out var when) ? when : News.Usual(harm);
}
