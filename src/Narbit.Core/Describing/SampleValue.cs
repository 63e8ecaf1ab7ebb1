namespace Narbit.Core.Describing;

/// <summary>A value in a sample.</summary>
/// <param name="Form">What it is.</param>
/// <param name="Text">It as text; of a list, its first entry.</param>
public readonly record struct SampleValue(SampleForm Form, string Text);
