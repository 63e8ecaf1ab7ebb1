namespace Narbit.Engine.Lanes;

/// <summary>What the change of a value costs as long as it waits.</summary>
public enum Stake
{
    /// <summary>Nothing that could be counted.</summary>
    Nothing,

    /// <summary>Money, in the target's currency.</summary>
    Money,

    /// <summary>Pieces of an item.</summary>
    Pieces,
}
