namespace Narbit.Engine.Lanes;

/// <summary>What lanes of a kind are to the stock that stores sell from.</summary>
public enum StockPart
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>They bring what stores have sold to the target.</summary>
    TakesSales,

    /// <summary>They tell stores what the source has.</summary>
    TellsStock,
}
