namespace Narbit.Engine.Workspaces.Files;

/// <summary>A pairing as its files say it is.</summary>
/// <param name="File">Its file.</param>
/// <param name="Pairs">How the systems are paired.</param>
/// <param name="Lines">What is decided, each with the number of its line in the table.</param>
public sealed record DescribedPairs(string File, WorkspacePairs Pairs, IReadOnlyList<(int Number, WorkspacePairLine Line)> Lines);
