namespace Narbit.Core.Comparing;

/// <summary>One line of a seam.</summary>
/// <param name="Label">What the field is.</param>
/// <param name="Here">The hub's value.</param>
/// <param name="HereUnit">Its unit.</param>
/// <param name="Sign">The state between them.</param>
/// <param name="There">The other side's value.</param>
/// <param name="ThereUnit">Its unit.</param>
public sealed record SeamRow(string Label, string? Here, string? HereUnit, SeamSign Sign, string? There, string? ThereUnit);
