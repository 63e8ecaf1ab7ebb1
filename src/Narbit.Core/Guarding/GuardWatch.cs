namespace Narbit.Core.Guarding;

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
