namespace Narbit.Core.Comparing;

/// <summary>The verdict on one field.</summary>
/// <param name="Movement">What is to be done.</param>
/// <param name="State">The mark on the seam.</param>
/// <param name="Why">The reason, in words.</param>
public readonly record struct FieldVerdict(Movement Movement, SeamSign State, string Why);
