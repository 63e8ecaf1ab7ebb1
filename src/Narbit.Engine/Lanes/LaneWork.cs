using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Pairing;

namespace Narbit.Engine.Lanes;

/// <summary>A word for one and for several, as a person reads it.</summary>
/// <param name="One">For one, e.g. <c>price</c>.</param>
/// <param name="Many">For several or none, e.g. <c>prices</c>.</param>
public sealed record Noun(string One, string Many)
{
    /// <summary>A number with its noun.</summary>
    public string Counted(int count) => count == 1 ? $"1 {One}" : $"{count:N0} {Many}";
}

/// <summary>A page of a lane, in the order in which its work goes.</summary>
/// <param name="Key">A stable word for programs, e.g. <c>map</c>.</param>
/// <param name="Label">What a person reads.</param>
public sealed record LaneStep(string Key, string Label)
{
    /// <summary>What the lane takes.</summary>
    public static LaneStep Scope { get; } = new("scope", "Scope");

    /// <summary>Which record there is which record here.</summary>
    public static LaneStep Pairs { get; } = new("pairs", "Pairs");

    /// <summary>What would stop a run.</summary>
    public static LaneStep Guards { get; } = new("guards", "Guards");

    /// <summary>What would be written.</summary>
    public static LaneStep Preview { get; } = new("preview", "Preview");

    /// <summary>When it runs.</summary>
    public static LaneStep Timetable { get; } = new("timetable", "Timetable");

    /// <summary>What it did.</summary>
    public static LaneStep Runs { get; } = new("runs", "Runs");

    /// <summary>By what it went at any time.</summary>
    public static LaneStep Versions { get; } = new("versions", "Versions");
}

/// <summary>What a lane must read before it can compute.</summary>
/// <param name="SystemId">The system.</param>
/// <param name="Kind">The kind of record.</param>
public readonly record struct LaneRead(string SystemId, RecordKind Kind);

/// <summary>A field that a lane reads or writes.</summary>
/// <param name="OfSource">Whether it is the source's; otherwise the target's.</param>
/// <param name="Kind">The kind of record that has it.</param>
/// <param name="Field">Its name.</param>
public readonly record struct FieldUse(bool OfSource, RecordKind Kind, string Field);

/// <summary>A limit at which a lane's run stops and asks, as a person sets it.</summary>
/// <param name="Limit">The limit's name in <see cref="GuardLimits"/>, in camelCase.</param>
/// <param name="Label">What it watches, in words that go before the limit.</param>
/// <param name="Unit">
/// The limit's unit, or null for one that is merely on or off; <see cref="Money"/> stands for the target's currency.
/// </param>
public sealed record WatchedLimit(string Limit, string Label, string? Unit)
{
    /// <summary>The unit of a limit of money: the currency of the lane's target.</summary>
    public const string Money = "currency";

    /// <summary>The share of records that change.</summary>
    public static WatchedLimit ChangedShare { get; } = new("changedShare", "More of the compared records change than", "%");

    /// <summary>Prices below cost.</summary>
    public static WatchedLimit BelowCost { get; } = new("belowCost", "A price falls below its cost", null);

    /// <summary>Prices below the least margin.</summary>
    public static WatchedLimit MinMargin { get; } = new("minMargin", "The margin, of the net price, falls below", "%");

    /// <summary>Prices of zero.</summary>
    public static WatchedLimit ZeroPrice { get; } = new("zeroPrice", "A price becomes zero", null);

    /// <summary>Records that cannot be computed.</summary>
    public static WatchedLimit FailingTimes { get; } = new("failingTimes", "More records fail than usual, times", "×");
}

/// <summary>
/// A kind of work that a lane does, e.g. prices by a price rule: what it reads, which records it pairs, how its document is checked,
/// how it computes, and what it is called. A new kind is a file of its own and a line in <see cref="LaneWorks.All"/>.
/// </summary>
public abstract class LaneWork
{
    /// <summary>A stable word for programs, kept with lanes and in their documents.</summary>
    public abstract string Kind { get; }

    /// <summary>What flows, as a person reads it, e.g. <c>Prices</c>.</summary>
    public abstract string Label { get; }

    /// <summary>What one value of it is called.</summary>
    public abstract Noun Noun { get; }

    /// <summary>The pages of such a lane, in the order of the work.</summary>
    public abstract IReadOnlyList<LaneStep> Steps { get; }

    /// <summary>The type of its document.</summary>
    public abstract Type DocumentType { get; }

    /// <summary>The part of its document that findings and paths speak of.</summary>
    public virtual string Part => "rule";

    /// <summary>What the move of its leading field is counted in, e.g. <c>%</c>; null: nothing moves by a measure.</summary>
    public virtual string? MoveUnit => null;

    /// <summary>The limits that mean something to it, in the order in which a person sets them.</summary>
    public virtual IReadOnlyList<WatchedLimit> Limits => [];

    /// <summary>The limits that hold as long as nobody has set any.</summary>
    public virtual GuardLimits UsualGuards { get; } = new();

    /// <summary>What a record's reference is called, e.g. <c>SKU</c>.</summary>
    public virtual string ReferenceLabel => "SKU";

    /// <summary>What a record's caption is called, e.g. <c>Item</c>.</summary>
    public virtual string CaptionLabel => "Item";

    /// <summary>The kind of record that it writes.</summary>
    public virtual RecordKind Record => RecordKind.Item;

    /// <summary>The kinds of record that its runs write, in the order in which they are sent: what others need first.</summary>
    public virtual IReadOnlyList<RecordKind> Writes => [Record];

    /// <summary>The kind of record whose pairs it goes by.</summary>
    public virtual RecordKind PairedKind => Record;

    /// <summary>
    /// Whether what it creates is kept as a counterpart, once and for all, and not as a pair that people look after.
    /// </summary>
    public virtual bool MakesCounterparts => false;

    /// <summary>Whether it flows between the two records of a pair; otherwise within one system.</summary>
    public virtual bool Pairs => true;

    /// <summary>Whether what happens to records of a kind in its source concerns it.</summary>
    public virtual bool Hears(RecordKind kind) => kind == Record;

    /// <summary>Whether it may write to its source too.</summary>
    public virtual bool WritesSource => true;

    /// <summary>Whether a record that is created gets its first values of this kind at once.</summary>
    public virtual bool GivesFirstValues => false;

    /// <summary>Limits as they are kept; the usual ones where none are.</summary>
    public GuardLimits GuardsOf(string? kept) => kept is null ? UsualGuards : RuleJson.ReadGuards(kept).ValueOrDefault ?? UsualGuards;

    /// <summary>A lane's name as a person reads it.</summary>
    public virtual string NameOf(string source, string target) => $"{Label} to {target}";

    /// <summary>The document that a new lane begins with; null: such lanes are made by what a person does elsewhere.</summary>
    public virtual LaneDocument? Blank(LaneSides sides) => null;

    /// <summary>The document that a new lane begins with at an instant.</summary>
    public virtual LaneDocument Begin(LaneDocument blank, DateTimeOffset now) => blank;

    /// <summary>What such a lane must read, in order.</summary>
    public abstract IReadOnlyList<LaneRead> Reads(OpenLane lane);

    /// <summary>Why two systems cannot be joined by such a lane; null: they can.</summary>
    public virtual Reason? Unfit(LaneSides sides) => null;

    /// <summary>Every finding about a document.</summary>
    /// <param name="document">The document.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="locations">The source's locations.</param>
    public abstract IReadOnlyList<RuleFault> Check(LaneDocument document, LaneSides sides, IReadOnlyCollection<string> locations);

    /// <summary>A document made ready to compute by; or why it cannot be.</summary>
    /// <param name="document">The document.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="at">The instant to compute for.</param>
    public abstract Outcome<LaneComputation> Computation(LaneDocument document, LaneSides sides, DateTimeOffset at);

    /// <summary>Every pair of records in the lane's scope, in the order in which the target's were first read.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="database">Where the mirror and the pairs are.</param>
    /// <param name="documents">The documents that will be applied; what they need is read.</param>
    /// <param name="only">The source's records that are wanted, where the work can tell; null: all of them.</param>
    /// <param name="cancel">Gives up.</param>
    public abstract IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    );

    /// <summary>The source's records that a small turn is about, as far as this lane goes.</summary>
    /// <param name="db">Where records and pairs are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="scope">What was touched.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual async Task<IReadOnlyCollection<string>> ConcernedAsync(
        NarbitContext db,
        Lane lane,
        TurnScope scope,
        CancellationToken cancel
    )
    {
        var here = scope.Of(lane.SourceId, Record);
        var there = WritesSource ? scope.Of(lane.TargetId, Record) : [];
        if (there.Count == 0)
            return here;
        var book = await PairBook.OpenAsync(db, Record, lane.SourceId, lane.TargetId, cancel);
        var linked = await book.Links(db).Where(l => there.Contains(l.TargetKey)).Select(l => l.SourceKey).ToListAsync(cancel);
        return [.. here.Union(linked, StringComparer.Ordinal)];
    }

    /// <summary>What a small run reads anew; what it was told of is in the mirror already.</summary>
    /// <param name="db">Where records and pairs are.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="only">The source's records that it looks at.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual Task<IReadOnlyList<RecordsTouched>> ReadsOfAsync(
        NarbitContext db,
        OpenLane lane,
        IReadOnlySet<string> only,
        CancellationToken cancel
    ) => Task.FromResult<IReadOnlyList<RecordsTouched>>([]);

    /// <summary>What a run has touched, so that others look at it.</summary>
    /// <param name="db">Where the run is.</param>
    /// <param name="lane">The lane.</param>
    /// <param name="run">The run, which is over.</param>
    /// <param name="cancel">Gives up.</param>
    public virtual async Task<IReadOnlyList<RecordsTouched>> TouchedByAsync(NarbitContext db, Lane lane, Run run, CancellationToken cancel)
    {
        var written = await db
            .Writes.Where(w => w.RunId == run.Id && w.State == WriteState.Confirmed)
            .Select(w => new
            {
                w.Way,
                w.Record,
                Key = w.Way == Way.There ? w.TargetKey : w.SourceKey,
            })
            .ToListAsync(cancel);
        return
        [
            .. written
                .GroupBy(w => (w.Way, w.Record))
                .Select(g => new RecordsTouched(
                    g.Key.Way == Way.There ? lane.TargetId : lane.SourceId,
                    g.Key.Record,
                    [.. g.Select(w => w.Key)]
                )),
        ];
    }

    /// <summary>Counts what a document on trial would do.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="trial">The document on trial.</param>
    /// <param name="guards">The guards' limits on trial.</param>
    /// <param name="focus">The target field that is being edited, or null.</param>
    public abstract TrialTally Tally(OpenLane lane, LaneDocument trial, GuardLimits guards, string? focus);

    /// <summary>How far a computed record's leading field moves, in <see cref="MoveUnit"/>; null where that cannot be said.</summary>
    public decimal? MoveOf(Computed computed) => computed.Fields.Count == 0 ? null : MoveOf(computed.Fields[0].Old, computed.Fields[0].New);

    /// <summary>How far a value moves, in <see cref="MoveUnit"/>.</summary>
    public virtual decimal? MoveOf(string? before, string? after) => null;

    /// <summary>The fields of both sides that a document reads or writes.</summary>
    public virtual IEnumerable<FieldUse> Uses(LaneDocument document, LaneSides sides) => [];

    /// <summary>Whether its field map may write a field of the target's.</summary>
    public virtual bool IsMapped(FieldDescription field) => MapSuggestions.IsMappable(field);

    /// <summary>The target's fields that flow back into a field of the source.</summary>
    public virtual IEnumerable<string> Returns(LaneDocument document, string sourceField) => [];
}

/// <summary>A kind of work with its document's type.</summary>
/// <typeparam name="T">The document.</typeparam>
public abstract class LaneWork<T> : LaneWork
    where T : LaneDocument
{
    /// <inheritdoc/>
    public sealed override Type DocumentType => typeof(T);

    /// <inheritdoc/>
    public sealed override IReadOnlyList<RuleFault> Check(LaneDocument document, LaneSides sides, IReadOnlyCollection<string> locations) =>
        document is T own ? Check(own, sides, locations) : [new RuleFault(LaneJson.Discriminator, Severity.Refuse, Foreign(document))];

    /// <inheritdoc/>
    public sealed override Outcome<LaneComputation> Computation(LaneDocument document, LaneSides sides, DateTimeOffset at) =>
        document is T own ? Computation(own, sides, at) : new Reason("rule.foreign", Foreign(document));

    /// <inheritdoc/>
    public sealed override TrialTally Tally(OpenLane lane, LaneDocument trial, GuardLimits guards, string? focus) =>
        Tally(lane, (T)trial, guards, focus);

    /// <inheritdoc cref="LaneWork.Check"/>
    protected abstract IReadOnlyList<RuleFault> Check(T document, LaneSides sides, IReadOnlyCollection<string> locations);

    /// <inheritdoc cref="LaneWork.Computation"/>
    protected abstract Outcome<LaneComputation> Computation(T document, LaneSides sides, DateTimeOffset at);

    /// <inheritdoc cref="LaneWork.Tally"/>
    protected abstract TrialTally Tally(OpenLane lane, T trial, GuardLimits guards, string? focus);

    private string Foreign(LaneDocument document) =>
        $"this lane is about {Label.ToLowerInvariant()}, and the document about {LaneWorks.Of(document).Label.ToLowerInvariant()}";
}

/// <summary>The kinds of work that there are.</summary>
public static class LaneWorks
{
    /// <summary>All of them, in the order in which a person meets them.</summary>
    public static IReadOnlyList<LaneWork> All { get; } =
    [
        new Items.ItemWork(),
        new Prices.PriceWork(),
        new Stock.StockWork(),
        new Orders.OrderWork(),
        new Customers.CustomerWork(),
        new Corrections.CorrectionWork(),
    ];

    /// <summary>The kinds that flow from one system to another.</summary>
    public static IEnumerable<LaneWork> Between => All.Where(w => w.Pairs);

    /// <summary>The kind with a code.</summary>
    /// <exception cref="InvalidOperationException">There is none: the database is a newer version's.</exception>
    public static LaneWork Of(string kind) =>
        All.FirstOrDefault(w => w.Kind == kind) ?? throw new InvalidOperationException($"There is no kind of work “{kind}”.");

    /// <summary>The kind that a document belongs to.</summary>
    public static LaneWork Of(LaneDocument document) => All.First(w => w.DocumentType == document.GetType());

    /// <summary>Where a kind stands in <see cref="All"/>.</summary>
    public static int Place(string kind) => All.ToList().FindIndex(w => w.Kind == kind);
}
