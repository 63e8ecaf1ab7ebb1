using System.Text.Json.Serialization;

namespace Narbit.Core.Guarding;

/// <summary>What a guard watches.</summary>
[JsonConverter(typeof(CamelCaseEnum<GuardKind>))]
public enum GuardKind
{
    /// <summary>The share of records that change.</summary>
    ChangedShare,

    /// <summary>Prices that move far.</summary>
    PriceMove,

    /// <summary>Prices below cost.</summary>
    BelowCost,

    /// <summary>Prices below the least margin.</summary>
    BelowMargin,

    /// <summary>Prices of zero.</summary>
    ZeroPrice,

    /// <summary>Quantities that fall to 0.</summary>
    ToZero,

    /// <summary>Texts that are emptied.</summary>
    EmptiedText,

    /// <summary>Records that are hidden or ended.</summary>
    Removed,

    /// <summary>More records than usual cannot be computed.</summary>
    Failing,

    /// <summary>Many orders at once.</summary>
    PostedAtOnce,

    /// <summary>Orders of an unusual worth.</summary>
    OrderOver,

    /// <summary>Many orders that wait or are held.</summary>
    HeldShare,
}
