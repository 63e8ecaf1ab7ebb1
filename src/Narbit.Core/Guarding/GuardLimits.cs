namespace Narbit.Core.Guarding;

/// <summary>What a lane may do without a person having looked at it. A limit that is null is not watched.</summary>
public sealed record GuardLimits
{
    /// <summary>
    /// The largest share of the compared records that may change, in percent. Watched from <see cref="FewestRecords"/> changes on.
    /// </summary>
    public decimal? ChangedShare { get; init; } = 50;

    /// <summary>The most that a price may move up or down, in percent of what is there.</summary>
    public decimal? PriceMove { get; init; } = 25;

    /// <summary>Whether no price may fall below its cost.</summary>
    public bool BelowCost { get; init; } = true;

    /// <summary>The least margin, in percent of the net price.</summary>
    public decimal? MinMargin { get; init; }

    /// <summary>Whether no price may become zero.</summary>
    public bool ZeroPrice { get; init; } = true;

    /// <summary>The most records whose quantity may fall to 0 at once.</summary>
    public int? ToZero { get; init; } = 25;

    /// <summary>The most texts that may be emptied.</summary>
    public int? EmptiedTexts { get; init; } = 0;

    /// <summary>The most records that may be hidden or ended.</summary>
    public int? Removed { get; init; } = 5;

    /// <summary>
    /// How many times the usual number of records may fail to be computed. Watched from <see cref="FewestRecords"/> failures on.
    /// </summary>
    public decimal? FailingTimes { get; init; } = 3;

    /// <summary>The most orders that may be posted at once.</summary>
    public int? PostedAtOnce { get; init; }

    /// <summary>The most that an order may be worth.</summary>
    public decimal? OrderOver { get; init; }

    /// <summary>The largest share of orders that may wait or be held, in percent. Watched from <see cref="FewestRecords"/> on.</summary>
    public decimal? HeldShare { get; init; }

    /// <summary>Below so many records a share says nothing.</summary>
    public const int FewestRecords = 10;

    /// <summary>Reads limits that a person may have written.</summary>
    /// <param name="json">The document; null: the usual limits.</param>
    public static Outcome<GuardLimits> Read(string? json) => json is null ? new GuardLimits() : RuleJson.Read<GuardLimits>(json);

    /// <summary>Limits that watch nothing.</summary>
    public static GuardLimits None { get; } =
        new()
        {
            ChangedShare = null,
            PriceMove = null,
            BelowCost = false,
            ZeroPrice = false,
            ToZero = null,
            EmptiedTexts = null,
            Removed = null,
            FailingTimes = null,
        };

    /// <summary>What is wrong with the limits.</summary>
    public IEnumerable<RuleFault> Check()
    {
        if (ChangedShare is < 0 or > 100)
            yield return new RuleFault("changedShare", Severity.Refuse, "the share of changed records is a percentage from 0 to 100");
        if (PriceMove is <= 0)
            yield return new RuleFault(
                "priceMove",
                Severity.Refuse,
                "the largest price move must be above 0 %; leave it empty to watch nothing"
            );
        if (MinMargin is < 0 or >= 100)
            yield return new RuleFault("minMargin", Severity.Refuse, "the least margin is from 0 to below 100 %");
        if (ToZero is < 0)
            yield return new RuleFault("toZero", Severity.Refuse, "the number of quantities to 0 cannot be negative");
        if (EmptiedTexts is < 0)
            yield return new RuleFault("emptiedTexts", Severity.Refuse, "the number of emptied texts cannot be negative");
        if (Removed is < 0)
            yield return new RuleFault("removed", Severity.Refuse, "the number of removed records cannot be negative");
        if (FailingTimes is < 1)
            yield return new RuleFault("failingTimes", Severity.Refuse, "records fail at least 1 times as often as usual");
        if (HeldShare is < 0 or > 100)
            yield return new RuleFault("heldShare", Severity.Refuse, "the share of held orders is a percentage from 0 to 100");
        if (PostedAtOnce is < 1)
            yield return new RuleFault("postedAtOnce", Severity.Refuse, "at least one order may be posted at once");
        if (OrderOver is <= 0)
            yield return new RuleFault("orderOver", Severity.Refuse, "the most that an order may be worth must be above 0");
        if (PriceMove is > 500)
            yield return new RuleFault(
                "priceMove",
                Severity.Warn,
                "a price may move by more than five times what is there before anybody is asked"
            );
    }
}
