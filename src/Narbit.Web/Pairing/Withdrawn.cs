using Narbit.Engine.Pairing;

namespace Narbit.Web.Pairing;

public sealed record Withdrawn(DecisionView? Decision);
