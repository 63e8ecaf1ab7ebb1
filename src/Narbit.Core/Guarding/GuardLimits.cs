using System.Text.Json.Serialization;

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

/// <summary>One change as the guards look at it.</summary>
/// <param name="Record">The record, as a person knows it.</param>
/// <param name="OldPrice">The price that is there.</param>
/// <param name="NewPrice">The price that it would get; null: no price changes.</param>
/// <param name="NetPrice">The same without tax, in the cost's currency.</param>
/// <param name="Cost">The net cost.</param>
/// <param name="OldQuantity">The quantity that is there.</param>
/// <param name="NewQuantity">The quantity that it would get; null: no quantity changes.</param>
/// <param name="Emptied">A text that would be emptied, by its label.</param>
/// <param name="Removes">Whether it would be hidden or ended.</param>
/// <param name="Posted">For an order that would be posted: what it is worth; null: it is none.</param>
public readonly record struct GuardedChange(
    string Record,
    decimal? OldPrice = null,
    decimal? NewPrice = null,
    decimal? NetPrice = null,
    decimal? Cost = null,
    decimal? OldQuantity = null,
    decimal? NewQuantity = null,
    string? Emptied = null,
    bool Removes = false,
    decimal? Posted = null
);

/// <summary>A guard that was tripped.</summary>
/// <param name="Kind">What it watches.</param>
/// <param name="Message">What was found and what the limit is, in words.</param>
/// <param name="Count">How many records.</param>
/// <param name="Worst">The worst cases, in words, worst first.</param>
public sealed record TrippedGuard(GuardKind Kind, string Message, int Count, IReadOnlyList<string> Worst);

/// <summary>
/// Watches a change set, record by record, and says at the end which guards are tripped. Not safe to use from several threads.
/// </summary>
/// <param name="limits">The limits.</param>
public sealed class GuardWatch(GuardLimits limits)
{
    private const int WorstCount = 5;
    private readonly Dictionary<GuardKind, (int Count, PriorityQueue<string, decimal> Worst)> _found = [];
    private int _changes;

    /// <summary>Looks at a change.</summary>
    /// <param name="change">The change.</param>
    /// <returns>The guards that concern this record, whether or not their number is tripped.</returns>
    public IReadOnlyList<GuardKind> Look(GuardedChange change)
    {
        // An order is new by nature; how many there are says nothing of a share that changes.
        if (change.Posted is null)
            _changes++;
        List<GuardKind>? kinds = null;
        if (change.NewPrice is { } price)
        {
            if (limits.ZeroPrice && price <= 0)
                Note(GuardKind.ZeroPrice, decimal.MaxValue, $"{change.Record}: {Was(change.OldPrice)} → {Numbers.Cents(price)}");
            if (limits.PriceMove is { } most && Numbers.Move(change.OldPrice, price) is { } move && Math.Abs(move) > most)
                Note(
                    GuardKind.PriceMove,
                    Math.Abs(move),
                    $"{change.Record}: {Was(change.OldPrice)} → {Numbers.Cents(price)} "
                        + $"({(move > 0 ? "+" : "−")}{Numbers.Plain(Math.Abs(move))} %)"
                );
            if (change is { NetPrice: { } net, Cost: { } cost and > 0 })
            {
                if (limits.BelowCost && net < cost)
                    Note(
                        GuardKind.BelowCost,
                        (cost - net) / cost,
                        $"{change.Record}: {Numbers.Cents(net)} net, cost {Numbers.Cents(cost)}"
                    );
                else if (limits.MinMargin is { } margin && net > 0 && (net - cost) / net * 100 is var has && has < margin)
                    Note(GuardKind.BelowMargin, margin - has, $"{change.Record}: margin {Numbers.Plain(decimal.Round(has, 1))} %");
            }
        }

        if (limits.ToZero is not null && change is { OldQuantity: > 0, NewQuantity: <= 0 })
            Note(
                GuardKind.ToZero,
                change.OldQuantity.Value,
                $"{change.Record}: {Numbers.Plain(change.OldQuantity.Value)} → {Numbers.Plain(change.NewQuantity!.Value)}"
            );
        if (limits.EmptiedTexts is not null && change.Emptied is { } field)
            Note(GuardKind.EmptiedText, 1, $"{change.Record}: {field}");
        if (limits.Removed is not null && change.Removes)
            Note(GuardKind.Removed, 1, change.Record);
        if (change.Posted is { } worth)
        {
            if (limits.PostedAtOnce is not null)
                Note(GuardKind.PostedAtOnce, worth, change.Record);
            if (limits.OrderOver is { } over && worth > over)
                Note(GuardKind.OrderOver, worth, $"{change.Record}: {Numbers.Cents(worth)}");
        }

        return kinds ?? (IReadOnlyList<GuardKind>)[];

        void Note(GuardKind kind, decimal size, string words)
        {
            (kinds ??= []).Add(kind);
            var (count, worst) = _found.TryGetValue(kind, out var had) ? had : (0, new PriorityQueue<string, decimal>());
            worst.Enqueue(words, size);
            if (worst.Count > WorstCount)
                worst.Dequeue();
            _found[kind] = (count + 1, worst);
        }
    }

    /// <summary>The guards that are tripped, gravest first. Asked once, at the end.</summary>
    /// <param name="compared">How many records were compared.</param>
    /// <param name="failing">How many could not be computed.</param>
    /// <param name="usuallyFailing">How many that usually are; null: not known yet.</param>
    public IReadOnlyList<TrippedGuard> Tripped(int compared, int failing, decimal? usuallyFailing)
    {
        var tripped = new List<TrippedGuard>();
        Over(GuardKind.ZeroPrice, 0, n => $"{Records(n)} would get a price of 0 or less");
        Over(GuardKind.BelowCost, 0, n => $"{Prices(n)} would be below cost");
        Over(GuardKind.PriceMove, 0, n => $"{Prices(n)} would move by more than {Numbers.Plain(limits.PriceMove!.Value)} %");
        Over(GuardKind.BelowMargin, 0, n => $"{Prices(n)} would leave less than {Numbers.Plain(limits.MinMargin!.Value)} % margin");
        Over(GuardKind.ToZero, limits.ToZero ?? 0, n => $"{n:N0} quantities would fall to 0; at most {limits.ToZero} may at once");
        Over(GuardKind.EmptiedText, limits.EmptiedTexts ?? 0, n => $"{n:N0} {(n == 1 ? "text" : "texts")} would be emptied");
        Over(GuardKind.Removed, limits.Removed ?? 0, n => $"{Records(n)} would be hidden or ended; at most {limits.Removed} may at once");
        Over(
            GuardKind.PostedAtOnce,
            limits.PostedAtOnce ?? 0,
            n => $"{n:N0} orders would be posted; at most {limits.PostedAtOnce} may at once"
        );
        Over(
            GuardKind.OrderOver,
            0,
            n => $"{n:N0} {(n == 1 ? "order is" : "orders are")} worth more than {Numbers.Plain(limits.OrderOver!.Value)}"
        );
        if (limits.HeldShare is { } held && failing >= GuardLimits.FewestRecords && compared > 0 && 100m * failing / compared > held)
            tripped.Add(
                new TrippedGuard(
                    GuardKind.HeldShare,
                    $"{failing:N0} of {compared:N0} orders ({decimal.Round(100m * failing / compared, 0)} %) wait or are held; "
                        + $"at most {Numbers.Plain(held)} % may",
                    failing,
                    []
                )
            );
        if (limits.ChangedShare is { } share && _changes >= GuardLimits.FewestRecords && compared > 0 && 100m * _changes / compared > share)
            tripped.Add(
                new TrippedGuard(
                    GuardKind.ChangedShare,
                    $"{_changes:N0} of {compared:N0} records ({decimal.Round(100m * _changes / compared, 0)} %) would change; "
                        + $"at most {Numbers.Plain(share)} % may",
                    _changes,
                    []
                )
            );
        if (
            limits.FailingTimes is { } times
            && failing >= GuardLimits.FewestRecords
            && usuallyFailing is { } usual
            && failing > usual * times
        )
            tripped.Add(
                new TrippedGuard(
                    GuardKind.Failing,
                    $"{failing:N0} records cannot be computed; usually it is {Numbers.Plain(decimal.Round(usual, 0))}",
                    failing,
                    []
                )
            );
        return tripped;

        void Over(GuardKind kind, int most, Func<int, string> words)
        {
            if (!_found.TryGetValue(kind, out var found) || found.Count <= most)
                return;
            var worst = new List<string>();
            while (found.Worst.TryDequeue(out var example, out _))
                worst.Insert(0, example);
            tripped.Add(new TrippedGuard(kind, words(found.Count), found.Count, worst));
        }
    }

    private static string Was(decimal? old) => old is { } price ? Numbers.Cents(price) : "none";

    private static string Records(int n) => $"{n:N0} {(n == 1 ? "record" : "records")}";

    private static string Prices(int n) => $"{n:N0} {(n == 1 ? "price" : "prices")}";
}
