namespace Narbit.Engine.Runs;

/// <summary>Which writes of a change set to send.</summary>
/// <param name="All">Everything that is not held, less <paramref name="Except"/>; otherwise only <paramref name="Only"/>.</param>
/// <param name="Except">Writes to leave out of all.</param>
/// <param name="Only">Writes to send; held ones are sent only when they are named here.</param>
/// <param name="WithoutGuarded">Whether what a tripped guard names is left out of all.</param>
public sealed record Choice(bool All, IReadOnlyList<long>? Except = null, IReadOnlyList<long>? Only = null, bool WithoutGuarded = false);
