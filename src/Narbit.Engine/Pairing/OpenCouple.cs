using Narbit.Data.Pairs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Pairing;

/// <summary>A couple with both its systems at hand.</summary>
/// <param name="Couple">The couple.</param>
/// <param name="Hub">The hub.</param>
/// <param name="Other">The other system.</param>
public sealed record OpenCouple(Couple Couple, Connection Hub, Connection Other);
