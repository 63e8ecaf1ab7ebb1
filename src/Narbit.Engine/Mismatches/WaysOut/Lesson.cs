namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What was learned by a way out that also holds for what comes later.</summary>
/// <param name="Words">What holds now, for people.</param>
/// <param name="Acted">How many records it has acted on since.</param>
/// <param name="Link">Where it is kept.</param>
public sealed record Lesson(string Words, int Acted, string Link);
