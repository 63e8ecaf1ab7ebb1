namespace Narbit.Core.Pairing;

/// <summary>What a pair table says of one listing: a pair, or a kit where there are several items or a quantity other than one.</summary>
/// <param name="Line">Its first line.</param>
/// <param name="OtherKey">The listing.</param>
/// <param name="Parts">The items it stands for.</param>
public sealed record TablePair(int Line, string OtherKey, IReadOnlyList<KitItem> Parts)
{
    /// <summary>Whether it is a kit.</summary>
    public bool IsKit => Parts.Count > 1 || Parts[0].Quantity != 1;
}
