using Narbit.Core;

namespace Narbit.Adapters;

/// <summary>A request that was not answered at once as it should have been.</summary>
/// <param name="At">When it was sent first.</param>
/// <param name="System">The system, by its name.</param>
/// <param name="Request">The method and the path, without what was asked for.</param>
/// <param name="Attempts">How often it was sent.</param>
/// <param name="Why">What went wrong the last time.</param>
/// <param name="Lost">How many of the attempts had no answer, so that they may have taken effect.</param>
/// <param name="Answered">Whether the last attempt was answered.</param>
public sealed record TroubledRequest(DateTimeOffset At, string System, string Request, int Attempts, Reason Why, int Lost, bool Answered);
