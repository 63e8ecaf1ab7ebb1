namespace Narbit.Core.Timetables;

/// <summary>How much of what there is a store shows, as a stock rule has it: a share of it, less what is held back.</summary>
/// <param name="HoldBack">Pieces that are held back, 0 or more.</param>
/// <param name="Share">Percent of it, 1 to 100, rounded down.</param>
public readonly record struct ShownPart(int HoldBack, int Share)
{
    /// <summary>All of it.</summary>
    public static ShownPart All { get; } = new(0, 100);

    /// <summary>What is shown of a quantity, never below zero.</summary>
    public long Of(long pieces) => Math.Max(0, (pieces > 0 ? pieces * Share / 100 : pieces) - HoldBack);
}
