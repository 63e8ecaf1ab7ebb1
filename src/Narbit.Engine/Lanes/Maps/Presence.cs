namespace Narbit.Engine.Lanes.Maps;

/// <summary>How a record of the source stands at the target.</summary>
public enum Presence
{
    /// <summary>It has a listing.</summary>
    Paired,

    /// <summary>It has none, and somebody chose it to be created.</summary>
    Chosen,

    /// <summary>It has none, and a sister of it has one.</summary>
    SisterThere,

    /// <summary>It has none, and neither has any sister.</summary>
    New,

    /// <summary>It is gone from the source, and its listing is still there.</summary>
    Gone,

    /// <summary>The target has it as a variant of an item that both sides know; the source has it not.</summary>
    OnlyThere,
}
