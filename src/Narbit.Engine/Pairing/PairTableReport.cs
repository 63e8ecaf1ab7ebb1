using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>What became of a pair table.</summary>
/// <param name="Lines">How many lines it has.</param>
/// <param name="Pairs">How many pairs and kits fit.</param>
/// <param name="Taken">How many of them wait as decisions now; 0 where a line did not fit and nothing was taken.</param>
/// <param name="Already">How many were decided or in force like that before.</param>
/// <param name="Faults">The lines that did not fit.</param>
public sealed record PairTableReport(int Lines, int Pairs, int Taken, int Already, IReadOnlyList<TableFault> Faults);
