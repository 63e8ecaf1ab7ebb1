namespace Narbit.Sandbox.Demo;

/// <summary>A size in which a product is sold; weight in grams.</summary>
public sealed record Size(string Label, string Code, decimal Factor, int Weight);
