using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>One record under a rule on trial.</summary>
/// <param name="HubKey">The hub's key.</param>
/// <param name="TargetKey">The target's key.</param>
/// <param name="Sku">The SKU.</param>
/// <param name="Title">The title.</param>
/// <param name="Now">What the target has.</param>
/// <param name="InForce">What the saved rule gives.</param>
/// <param name="Trial">What the rule on trial gives.</param>
/// <param name="Move">From now to trial: percent for prices, pieces for stock.</param>
/// <param name="Hold">Why it would be held, or null.</param>
/// <param name="Trace">How the trial's value comes about.</param>
public sealed record TrialRecord(
    string HubKey,
    string TargetKey,
    string? Sku,
    string? Title,
    string? Now,
    string? InForce,
    string? Trial,
    decimal? Move,
    string? Hold,
    IReadOnlyList<TraceStep> Trace
);

/// <summary>What a rule would do if it were saved.</summary>
/// <param name="Faults">The findings of its check.</param>
/// <param name="Records">Paired records in scope.</param>
/// <param name="Changes">How many of them would change at the target.</param>
/// <param name="ChangesInForce">How many would change by the saved rule.</param>
/// <param name="Up">How many would rise.</param>
/// <param name="Down">How many would fall.</param>
/// <param name="Held">How many would be held.</param>
/// <param name="Uncomputed">How many cannot be computed.</param>
/// <param name="Samples">A few records from cheapest to dearest.</param>
/// <param name="Largest">The records with the largest moves.</param>
/// <param name="Tripped">The guards that would be tripped.</param>
public sealed record TrialResult(
    IReadOnlyList<RuleFault> Faults,
    int Records,
    int Changes,
    int ChangesInForce,
    int Up,
    int Down,
    int Held,
    int Uncomputed,
    IReadOnlyList<TrialRecord> Samples,
    IReadOnlyList<TrialRecord> Largest,
    IReadOnlyList<TrippedGuard> Tripped
);

/// <summary>Applies a rule that is not saved to all paired records, writing nothing.</summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class RuleTrial(Database database, AdapterSource adapters, TimeProvider clock)
{
    private const int SampleCount = 6;
    private const int LargestCount = 5;

    /// <summary>Tries a rule document.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="document">The rule, JSON.</param>
    /// <param name="guards">The guards' limits on trial, JSON; null: those in force.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<TrialResult>> TryAsync(string laneId, string document, string? guards, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        IReadOnlyList<RuleFault> faults =
        [
            .. lane.Check(document, await LocationsAsync(lane, cancel)),
            .. await SharesAsync(lane, document, cancel),
        ];
        var now = clock.GetUtcNow();
        var trial = lane.Computation(document, now);
        var inForce = lane.Computation(lane.Rule.Document, now);
        if (trial.Fault is not null)
            return new TrialResult(faults, 0, 0, 0, 0, 0, 0, 0, [], [], []);

        int records = 0,
            changes = 0,
            before = 0,
            up = 0,
            down = 0,
            held = 0,
            uncomputed = 0;
        var watch = new GuardWatch((guards is null ? null : RuleJson.ReadGuards(guards).ValueOrDefault) ?? lane.Guards);
        var computed = new List<(decimal Amount, Tried Record)>();
        var largest = new PriorityQueue<Tried, decimal>();
        await foreach (var pair in lane.PairsAsync(database, [document, lane.Rule.Document], cancel))
        {
            records++;
            var (saved, tried) = (inForce.Value.Compute(pair), trial.Value.Compute(pair));
            if (saved.Changes)
                before++;
            if (tried.Cause is not null)
            {
                uncomputed++;
                continue;
            }

            var record = new Tried(pair, saved, tried);
            if (tried.Hold is null)
                computed.Add((Number(tried.Fields[0].New) ?? 0, record));
            if (!tried.Changes)
                continue;
            var move = MoveOf(lane.Lane.Kind, tried);
            changes++;
            if (move > 0)
                up++;
            if (move < 0)
                down++;
            if (tried.Hold is not null)
                held++;
            else
                watch.Look(tried.Guarded);
            largest.Enqueue(record, Math.Abs(move ?? 0));
            if (largest.Count > LargestCount)
                largest.Dequeue();
        }

        var top = new List<TrialRecord>();
        while (largest.TryDequeue(out var item, out _))
            top.Insert(0, Show(lane.Lane.Kind, item));
        return new TrialResult(
            faults,
            records,
            changes,
            before,
            up,
            down,
            held,
            uncomputed,
            [.. Spread(computed).Select(r => Show(lane.Lane.Kind, r))],
            top,
            watch.Tripped(records, uncomputed, null)
        );
    }

    /// <summary>The hub's locations, as its mirrored stock levels name them.</summary>
    public async Task<IReadOnlyCollection<string>> LocationsAsync(OpenLane lane, CancellationToken cancel)
    {
        if (lane.SourceLevels?.Find(FieldRole.Location) is not { } location)
            return [];
        var path = $"$.\"{location.Name}\"";
        await using var db = database.CreateDbContext();
        return await db
            .Database.SqlQuery<string>(
                $"""SELECT DISTINCT json_extract("Values", {path}) AS Value FROM Records WHERE SystemId = {lane.Source.System.Id} AND Kind = {nameof(RecordKind.StockLevel)} AND GoneAt IS NULL AND json_extract("Values", {path}) IS NOT NULL ORDER BY 1"""
            )
            .ToListAsync(cancel);
    }

    // Once somebody divides the stock among stores, what is left undivided counts in full.
    private async Task<IEnumerable<RuleFault>> SharesAsync(OpenLane lane, string document, CancellationToken cancel)
    {
        if (lane.Lane.Kind != LaneKind.Stock || RuleJson.ReadStockRule(document).ValueOrDefault is not { } rule)
            return [];
        await using var db = database.CreateDbContext();
        var others = await (
            from l in db.Lanes
            join v in db.RuleVersions on new { LaneId = l.Id, Number = l.RuleNumber } equals new { v.LaneId, v.Number }
            join s in db.Systems on l.TargetId equals s.Id
            where l.Kind == LaneKind.Stock && l.SourceId == lane.Lane.SourceId && l.Id != lane.Lane.Id && !l.Off
            orderby s.Name
            select new { s.Name, v.Document }
        ).ToListAsync(cancel);
        // Stores that are fed from other locations take nothing from this one's.
        var shares = others
            .Select(o => (o.Name, Rule: RuleJson.ReadStockRule(o.Document).ValueOrDefault))
            .Where(o => o.Rule is not null && Meet(o.Rule, rule))
            .Select(o => (o.Name, o.Rule!.Share))
            .Prepend((lane.Target.System.Name, rule.Share))
            .ToList();
        var sum = shares.Sum(s => s.Share ?? 100);
        return shares.TrueForAll(s => s.Share is null) || sum <= 100
            ? []
            :
            [
                new RuleFault(
                    "share",
                    Severity.Warn,
                    $"Together the stores are given {Numbers.Plain(sum)} % of the same stock: "
                        + $"{string.Join(", ", shares.Select(s => $"{s.Name} {Numbers.Plain(s.Share ?? 100)} %"))}. Between two "
                        + $"runs they can sell more than there is."
                ),
            ];

        static bool Meet(StockRule a, StockRule b) =>
            a.Locations.Count == 0 || b.Locations.Count == 0 || a.Locations.Intersect(b.Locations, StringComparer.Ordinal).Any();
    }

    /// <summary>The change of the leading field: percent for prices, pieces for stock.</summary>
    public static decimal? MoveOf(LaneKind kind, Computed computed)
    {
        if (computed.Fields.Count == 0)
            return null;
        if (kind is LaneKind.Correction or LaneKind.Item)
            return null;
        var (old, next) = (Number(computed.Fields[0].Old), Number(computed.Fields[0].New));
        return kind == LaneKind.Price ? Numbers.Move(old, next) : next - old;
    }

    // A few records evenly from the smallest result to the largest.
    private static IEnumerable<Tried> Spread(List<(decimal Amount, Tried Record)> computed)
    {
        computed.Sort((a, b) => a.Amount.CompareTo(b.Amount));
        var count = Math.Min(SampleCount, computed.Count);
        for (var i = 0; i < count; i++)
            yield return computed[count == 1 ? 0 : i * (computed.Count - 1) / (count - 1)].Record;
    }

    private static decimal? Number(string? text) =>
        text is null ? null : decimal.Parse(text, System.Globalization.CultureInfo.InvariantCulture);

    private static TrialRecord Show(LaneKind kind, Tried tried)
    {
        var field = tried.Trial.Fields[0];
        return new TrialRecord(
            tried.Pair.Source.Key,
            tried.Pair.Target.Key,
            tried.Pair.Sku,
            tried.Pair.Title,
            field.Old,
            tried.InForce.Fields.Count > 0 ? tried.InForce.Fields[0].New : null,
            field.New,
            MoveOf(kind, tried.Trial),
            tried.Trial.Hold,
            field.Trace
        );
    }

    private sealed record Tried(LanePair Pair, Computed InForce, Computed Trial);
}
