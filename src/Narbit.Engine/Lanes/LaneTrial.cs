using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>What a document would do if it were saved; each way of looking at it adds what it shows.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "looksAt")]
[JsonDerivedType(typeof(ValueTrial), "values")]
[JsonDerivedType(typeof(MapTrial), "fields")]
[JsonDerivedType(typeof(Orders.OrderTrial), "orders")]
public abstract record TrialResult
{
    /// <summary>The findings of its check.</summary>
    public IReadOnlyList<RuleFault> Faults { get; init; } = [];

    /// <summary>Records in scope.</summary>
    public int Records { get; init; }

    /// <summary>How many of them would change at the target.</summary>
    public int Changes { get; init; }

    /// <summary>How many would by the saved document.</summary>
    public int ChangesInForce { get; init; }

    /// <summary>How many would be held for a person.</summary>
    public int Held { get; init; }

    /// <summary>How many cannot be computed.</summary>
    public int Failing { get; init; }

    /// <summary>The guards that would be tripped.</summary>
    public IReadOnlyList<TrippedGuard> Tripped { get; init; } = [];
}

/// <summary>Counts, record by record, what a document on trial would do.</summary>
public abstract class TrialTally
{
    /// <summary>Adds a record.</summary>
    /// <param name="pair">The record.</param>
    /// <param name="saved">What the saved document makes of it; null where that cannot be applied.</param>
    /// <param name="tried">What the document on trial makes of it.</param>
    public abstract void Add(LanePair pair, Computed? saved, Computed tried);

    /// <summary>What came of it.</summary>
    /// <param name="faults">The findings of the document's check.</param>
    public abstract TrialResult Result(IReadOnlyList<RuleFault> faults);
}

/// <summary>
/// Applies a document that is not saved to all records in a lane's scope, writing nothing. It is the code that a run uses.
/// </summary>
/// <param name="database">Where the mirror is.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class LaneTrial(Database database, AdapterSource adapters, TimeProvider clock)
{
    /// <summary>Tries a document.</summary>
    /// <param name="laneId">The lane.</param>
    /// <param name="document">The document.</param>
    /// <param name="guards">The guards' limits on trial; null: those in force.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<TrialResult>> TryAsync(
        string laneId,
        LaneDocument document,
        GuardLimits? guards,
        string? focus,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        if (document.GetType() != lane.Work.DocumentType)
            return new Reason("rule.foreign", lane.Work.Check(document, lane.Sides, [])[0].Message);
        IReadOnlyList<RuleFault> faults =
        [
            .. await lane.CheckAsync(document, database, cancel),
            .. await SharesAsync(lane, document, cancel),
        ];
        var tally = lane.Work.Tally(lane, document, guards ?? lane.Guards, focus);
        var now = clock.GetUtcNow();
        var trial = await lane.ComputationAsync(document, database, now, cancel);
        if (trial.Fault is not null)
            return tally.Result(faults);

        var inForce = await lane.ComputationAsync(database, now, cancel);
        await foreach (var pair in lane.Work.PairsAsync(lane, database, [document, lane.Document], null, cancel))
        {
            // It stops when nobody waits for it.
            cancel.ThrowIfCancellationRequested();
            tally.Add(pair, inForce.ValueOrDefault?.Compute(pair), trial.Value.Compute(pair));
        }

        return tally.Result(faults);
    }

    // Once somebody divides the stock among stores, what is left undivided counts in full.
    private async Task<IReadOnlyList<RuleFault>> SharesAsync(OpenLane lane, LaneDocument document, CancellationToken cancel)
    {
        if (document is not StockDocument { Rule: var rule })
            return [];
        await using var db = database.CreateDbContext();
        var others = await (
            from l in db.Lanes
            join v in db.RuleVersions on new { LaneId = l.Id, Number = l.RuleNumber } equals new { v.LaneId, v.Number }
            join s in db.Systems on l.TargetId equals s.Id
            where l.Kind == lane.Lane.Kind && l.SourceId == lane.Lane.SourceId && l.Id != lane.Lane.Id && !l.Off
            orderby s.Name
            select new { s.Name, v.Document }
        ).ToListAsync(cancel);
        // Stores that are fed from other locations take nothing from this one's.
        var shares = others
            .Select(o => (o.Name, Rule: (LaneJson.Read(o.Document).ValueOrDefault as StockDocument)?.Rule))
            .Where(o => o.Rule is not null && Meet(o.Rule, rule))
            .Select(o => (o.Name, o.Rule!.Share))
            .Prepend((lane.Target.System.Name, rule.Share))
            .ToList();
        var sum = shares.Sum(s => s.Share ?? 100);
        if (shares.TrueForAll(s => s.Share is null) || sum <= 100)
            return [];
        var each = string.Join(", ", shares.Select(s => $"{s.Name} {Numbers.Plain(s.Share ?? 100)} %"));
        return
        [
            new RuleFault(
                "share",
                Severity.Warn,
                $"Together the stores are given {Numbers.Plain(sum)} % of the same stock: {each}. Between two runs they can sell more "
                    + "than there is."
            ),
        ];

        static bool Meet(StockRule a, StockRule b) =>
            a.Locations.Count == 0 || b.Locations.Count == 0 || a.Locations.Intersect(b.Locations, StringComparer.Ordinal).Any();
    }
}
