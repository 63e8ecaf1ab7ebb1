namespace Narbit.Adapters.Describing;

/// <summary>A step of a write on trial.</summary>
/// <param name="Ok">Whether it went well.</param>
/// <param name="Words">What happened.</param>
public sealed record TrialStep(bool Ok, string Words);
