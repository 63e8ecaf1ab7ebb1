using System.Globalization;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Items by a field map: updates of what is paired, creations, and withdrawals of what is no longer sold.</summary>
/// <param name="map">The map.</param>
/// <param name="sides">The systems, with what a new listing costs and shows at first.</param>
public sealed class ItemComputation(ReadyMap map, LaneSides sides) : LaneComputation<PlacedItem>
{
    // What a new variant takes from a sister where nothing flows back to it.
    private static readonly HashSet<FieldRole> Common = [FieldRole.Title, FieldRole.Category, FieldRole.TaxCode, FieldRole.Brand];

    private readonly FieldSet _source = sides.Source;
    private readonly HashSet<string> _mapped = [.. map.Fields.Select(f => f.Target.Name)];

    // What is kept with a listing that was hidden because of its item, to tell it from a draft.
    private const string Withdrawn = "withdrawn";

    private readonly FieldDescription? _published = sides.Target.Find(FieldRole.Published) is { Writable: true } field ? field : null;

    /// <summary>The fields that it sends.</summary>
    public IEnumerable<ReadyField> Sent => map.Fields.Where(f => ReadyMap.Sends(f.Mapping));

    /// <inheritdoc/>
    public override int? Portion => map.Map.Publish.Portion;

    /// <inheritdoc/>
    protected override Computed Of(PlacedItem pair)
    {
        var computed = Standing(pair);
        return computed.Act == WriteAct.Create ? computed with { ParentKey = pair.Place.Parent, Group = pair.Place.Group } : computed;
    }

    // By how the record stands at the target.
    private Computed Standing(PlacedItem pair)
    {
        var place = pair.Place;
        var publish = map.Map.Publish;
        switch (place.Presence)
        {
            case Presence.OnlyThere:
                return publish.NewThere == NewThere.Follow ? CreateHere(pair) : Computed.OutOfScope;
            case Presence.Gone:
                return Withdraw(pair, publish.WhenGone, "it is gone from the source");
        }

        if (!map.Takes(pair.Source.Values, Available(pair), place.HereAt))
            return Computed.OutOfScope;
        var hidden = _source.Text(pair.Source.Values, FieldRole.Published) == "false";
        if (place.Presence != Presence.Paired)
            return IsWanted(place, publish, hidden) ? Create(pair) : Computed.OutOfScope;
        if (hidden && publish.WhenHidden != Withdrawal.Leave)
            return Withdraw(pair, publish.WhenHidden, "it is hidden at the source");
        return publish.WhenOutOfStock != Withdrawal.Leave && IsOut(pair)
            ? Withdraw(pair, publish.WhenOutOfStock, "nothing of it is available")
            : Update(pair);
    }

    private static decimal Available(PlacedItem pair) => pair.Levels.Sum(l => l.OnHand - l.Allocated);

    private bool IsOut(PlacedItem pair) => _source.Text(pair.Source.Values, FieldRole.Tracked) != "false" && Available(pair) <= 0;

    private static bool IsWanted(ItemPlace place, PublishRule publish, bool hidden) =>
        place.Presence == Presence.Chosen
        || (!hidden && (publish.New == NewRecords.All || (publish.New == NewRecords.Variants && place.Presence == Presence.SisterThere)));

    // What cannot be read is in the way only where the map looks at it.
    private Computed? Unreadable(SideRecord record)
    {
        var problem = record.Problems.FirstOrDefault(p => map.Looks.Contains(p.Field));
        return problem is null ? null : Computed.Not(new Reason("unreadable", $"source: {problem.Message}").With("field", problem.Field));
    }

    private Computed Update(PlacedItem pair)
    {
        if (Unreadable(pair.Source) is { } unreadable)
            return unreadable;
        var place = pair.Place;
        var mapped = RecordMapping.Compare(
            map,
            place.Record,
            field => pair.Agreed.TryGetValue(field, out var agreed) ? new LastAgreed(agreed.Value) : null,
            place.HereAt,
            place.ThereAt
        );
        if (mapped.Failure is { } failure)
            return Computed.Not(failure);
        var sorted = new Sorted(mapped.Fields.Count);
        foreach (var field in mapped.Fields)
            Sort(field, pair, sorted);
        if (ShowsAgain(pair) is { } shown)
            sorted.There.Insert(0, shown);
        // What goes to the target stands before what comes back from it, each in the map's order.
        return new Computed([.. sorted.There, .. sorted.Back])
        {
            Hold = sorted.Hold,
            Guarded = new GuardedChange(pair.Name, Emptied: sorted.Emptied),
            Baseline = sorted.Baseline,
        };
    }

    // The fields of a pair by what becomes of them.
    private sealed class Sorted(int count)
    {
        public List<ComputedField> There { get; } = new(count);

        public List<ComputedField> Back { get; } = [];

        public List<(string, string?)> Baseline { get; } = [];

        public Reason? Hold { get; set; }

        public string? Emptied { get; set; }
    }

    private static void Sort(MappedField field, PlacedItem pair, Sorted sorted)
    {
        var target = field.Field.Target;
        switch (field.Verdict.Movement)
        {
            case Movement.Send or Movement.Ask:
                var asks = field.Verdict.Movement == Movement.Ask;
                var trace = Trace(field, pair.Place.Record);
                sorted.There.Add(new ComputedField(target, field.There, field.Here, trace) { Asks = asks, Why = field.Verdict.Why });
                if (asks)
                    sorted.Hold ??= ChangedOnBoth(field);
                if (field.Here is null && Shapes.Of(target.Type) is Shape.Text or Shape.Html)
                    sorted.Emptied ??= target.Label;
                break;
            case Movement.TakeBack:
                sorted.Back.Add(TakenBack(field, pair));
                break;
            case Movement.None when field.Field.Mapping.Owner == Owner.Nobody && !Knows(pair, target, field.There):
                sorted.Baseline.Add((target.Name, field.There));
                break;
        }
    }

    private static bool Knows(PlacedItem pair, FieldDescription target, string? value) =>
        pair.Agreed.TryGetValue(target.Name, out var had) && had.Value == value;

    private static Reason ChangedOnBoth(MappedField field) =>
        new Reason(
            "changedOnBoth",
            $"{field.Field.Target.Label} was changed on both sides: here “{Short(field.Here)}”, there “{Short(field.There)}”; "
                + "sending it puts what is here in its place"
        ).With("field", field.Field.Target.Name);

    private static ComputedField TakenBack(MappedField field, PlacedItem pair)
    {
        var back = field.Field.Back!.Source;
        return new ComputedField(
            back,
            pair.Source.Values.GetValueOrDefault(back.Name),
            field.Back,
            [
                new TraceStep("target", null, field.There, $"{field.Field.Target.Label} at the target"),
                new TraceStep("compare", field.Here, field.There, field.Verdict.Why),
                new TraceStep("back", field.There, field.Back, "the chain turned round"),
            ]
        )
        {
            Way = Way.Back,
            Agrees = field.There,
            Why = field.Verdict.Why,
        };
    }

    // What was hidden because of its item is shown again once the reason is gone; a draft is for a person to publish.
    private ComputedField? ShowsAgain(PlacedItem pair)
    {
        if (_published is not { } field || _mapped.Contains(field.Name))
            return null;
        var hidden = pair.Target.Values.GetValueOrDefault(field.Name) == "false";
        return hidden && pair.Agreed.TryGetValue(field.Name, out var agreed) && agreed is { Value: "false", Source: Withdrawn }
            ? new ComputedField(
                field,
                "false",
                "true",
                [new TraceStep("publish", "false", "true", "it was hidden because of its item, and the reason is gone")]
            )
            : null;
    }

    private Computed Create(PlacedItem pair)
    {
        if (!sides.Creates)
            return CannotCreate("target");
        if (Unreadable(pair.Source) is { } unreadable)
            return unreadable;
        var mapped = RecordMapping.Create(map, pair.Place.Record);
        if (mapped.Failure is { } failure)
            return Computed.Not(failure);
        var sku = mapped.Fields.FirstOrDefault(f => f.Field.Target.Role == FieldRole.Sku).Here;
        if (sku is not null && pair.Place.WithSku?.Invoke(sku) is { } taken)
            return SkuTaken("skuThere", "target", taken, sku);
        var fields = mapped
            .Fields.Select(f => new ComputedField(f.Field.Target, null, f.Here, Trace(f, pair.Place.Record)) { Why = f.Verdict.Why })
            .ToList();
        if (_published is { } published && !_mapped.Contains(published.Name))
            fields.Add(Published(published));
        var first = First(pair, fields);
        return first.Why is { } why ? Computed.Not(why) : Made(fields, sides.Target, "target", "is mapped to it", first);
    }

    private ComputedField Published(FieldDescription published)
    {
        var (value, why) = map.Map.Publish.Live ? ("true", "new records go live") : ("false", "new records are drafts");
        return new ComputedField(published, null, value, [new TraceStep("publish", null, value, why)]);
    }

    // What other lanes give a new record at first; the guards look at the first of them that has something to guard.
    private Computed First(PlacedItem pair, List<ComputedField> fields)
    {
        var first = new Computed([]) { Guarded = new GuardedChange(pair.Name) };
        foreach (var (work, computation) in sides.First)
        {
            var computed = computation.Compute(pair);
            if (computed.Why is { } cause)
                return Computed.Not(cause with { Words = $"its first {work.Noun.One}: {cause.Words}" });
            fields.AddRange(computed.Fields.Where(f => f.New is not null && f.Field.Writable));
            first = first with
            {
                Hold = first.Hold ?? computed.Hold,
                Guarded = computed.Guarded.NewPrice is null ? first.Guarded : computed.Guarded,
            };
        }

        return first;
    }

    private static Computed Made(List<ComputedField> fields, FieldSet side, string name, string lacks, Computed first)
    {
        var missing = side.Fields.FirstOrDefault(f =>
            f is { Required: true, Writable: true } && fields.TrueForAll(had => had.Field.Name != f.Name)
        );
        return missing is not null
            ? Computed.Not(
                new Reason("required", $"{missing.Label} is required at the {name}, and nothing {lacks}").With("field", missing.Name)
            )
            : first with
            {
                Fields = [.. fields.OrderByDescending(f => f.Field.Role == FieldRole.Title)],
                Act = WriteAct.Create,
            };
    }

    // A variant that appeared at the target, made a record of the source: by the chains turned round, and for the rest as its sister is.
    private Computed CreateHere(PlacedItem pair)
    {
        if (!sides.CreatesHere)
            return CannotCreate("source");
        var fields = TurnedRound(pair.Target.Values);
        AddAsSister(fields, pair.Place);
        if (fields.Find(f => f.Field.Role == FieldRole.Sku)?.New is { } sku && pair.Place.WithSku?.Invoke(sku) is { } taken)
            return SkuTaken("skuHere", "source", taken, sku);
        return Made(fields, _source, "source", "flows back to it", new Computed([]) { Guarded = new GuardedChange(pair.Name) });
    }

    private List<ComputedField> TurnedRound(IReadOnlyDictionary<string, string> there)
    {
        var crosswalks = map.Map.Crosswalks.ToDictionary(c => c.Name, StringComparer.Ordinal);
        var fields = new List<ComputedField>();
        foreach (var mapping in map.Fields)
        {
            if (there.GetValueOrDefault(mapping.Target.Name) is not { } value)
                continue;
            if (Reversal.Of(mapping.Mapping, _source, crosswalks).ValueOrDefault is not { } back || back.Run(value) is not { } mine)
                continue;
            if (fields.Exists(f => f.Field.Name == back.Source.Name))
                continue;
            TraceStep[] trace =
            [
                new("target", null, value, $"{mapping.Target.Label} at the target"),
                new("back", value, mine, "the chain turned round"),
            ];
            fields.Add(new ComputedField(back.Source, null, mine, trace) { Way = Way.Back, Agrees = value });
        }

        return fields;
    }

    private void AddAsSister(List<ComputedField> fields, ItemPlace place)
    {
        if (place.Record.Parent is not { } sister)
            return;
        var wanted = _source.Fields.Where(f => f.Writable && (f.Required || Common.Contains(f.Role)));
        foreach (var field in wanted.Where(f => !fields.Exists(had => had.Field.Name == f.Name)).ToList())
        {
            if (sister.GetValueOrDefault(field.Name) is not { } value)
                continue;
            if (field.Role == FieldRole.Title)
                value = WithOwnOption(value, sister, fields);
            var trace = new TraceStep("sister", null, value, $"as its sister {place.Record.ParentKey} has it");
            fields.Add(new ComputedField(field, null, value, [trace]) { Way = Way.Back });
        }
    }

    // A name that ends with its option ends with the new one's.
    private string WithOwnOption(string title, IReadOnlyDictionary<string, string> sister, List<ComputedField> fields)
    {
        if (_source.Find(FieldRole.Option) is not { } option || sister.GetValueOrDefault(option.Name) is not { Length: > 0 } old)
            return title;
        return title.EndsWith(old, StringComparison.Ordinal) && fields.Find(f => f.Field.Name == option.Name)?.New is { } its
            ? title[..^old.Length] + its
            : title;
    }

    private Computed Withdraw(PlacedItem pair, Withdrawal way, string why)
    {
        if (way == Withdrawal.Leave)
            return Computed.OutOfScope;
        var there = _published is null ? null : pair.Target.Values.GetValueOrDefault(_published.Name);
        if (way == Withdrawal.End && sides.Ends)
        {
            IReadOnlyList<ComputedField> ended = _published is null
                ? []
                : [new ComputedField(_published, there, null, [new TraceStep("publish", there, null, $"{why}, so its listing is ended")])];
            return new Computed(ended) { Act = WriteAct.End, Guarded = new GuardedChange(pair.Name, Removes: true) };
        }

        if (_published is null)
            return Computed.Not("cannotHide", $"{why}, and the target lets its records be neither ended nor hidden");
        if (pair.Place.SistersStay)
            return Computed.Not(
                "sistersSold",
                $"{why}, and hiding it would hide its whole product, whose other variants are still sold; let such listings be ended "
                    + "instead, or take this one out there by hand"
            );
        return new Computed([
            new ComputedField(_published, there, "false", [new TraceStep("publish", there, "false", $"{why}, so it is hidden")]),
        ])
        {
            Guarded = new GuardedChange(pair.Name, Removes: there != "false"),
            Source = Withdrawn,
        };
    }

    private static Computed CannotCreate(string side) =>
        Computed.Not("cannotCreate", $"the {side}'s description says nothing of how records are created");

    private static Computed SkuTaken(string code, string side, string taken, string sku) =>
        Computed.Not(
            new Reason(code, $"the {side}'s record {taken} has the SKU {sku} already; pair the two at the pair desk").With("record", taken)
        );

    // Most traces are never looked at: a trial of a map needs none, and a run only those of what changes.
    private static TraceLater Trace(MappedField field, MapRecord record) =>
        new(() =>
        {
            var trace = new List<TraceStep>();
            field.Field.Chain.Trace(record, trace);
            var why = string.Create(CultureInfo.InvariantCulture, $"{field.Verdict.Why}; {FieldComparison.How(field.Field.Target.Type)}");
            trace.Add(new TraceStep("compare", field.There, field.Here, why));
            return trace;
        });

    // A trace that is worked out when it is asked for.
    private sealed class TraceLater(Func<List<TraceStep>> trace) : IReadOnlyList<TraceStep>
    {
        private List<TraceStep>? _steps;

        public int Count => Steps.Count;

        private List<TraceStep> Steps => _steps ??= trace();

        public TraceStep this[int index] => Steps[index];

        public IEnumerator<TraceStep> GetEnumerator() => Steps.GetEnumerator();

        System.Collections.IEnumerator System.Collections.IEnumerable.GetEnumerator() => GetEnumerator();
    }

    private static string Short(string? text) =>
        text is null ? "nothing"
        : text.Length <= 60 ? text
        : text[..59] + "…";
}
