using System.Globalization;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Guarding;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Data.Lanes;

namespace Narbit.Engine.Lanes;

/// <summary>Items by a field map: updates of what is paired, creations, and withdrawals of what is no longer sold.</summary>
/// <param name="map">The map.</param>
/// <param name="source">The source's item fields.</param>
/// <param name="target">The target's item kind.</param>
/// <param name="firstPrice">The price lane to the same target: what a new listing costs. Null: there is none.</param>
/// <param name="firstQuantity">The stock lane to the same target: how many a new listing shows. Null: there is none.</param>
/// <param name="createsHere">Whether the source's description says how records are created.</param>
public sealed class ItemComputation(
    ReadyMap map,
    FieldSet source,
    Narbit.Adapters.OfferedKind target,
    LaneComputation? firstPrice,
    LaneComputation? firstQuantity,
    bool createsHere = false
) : LaneComputation
{
    // What a new variant takes from a sister where nothing flows back to it.
    private static readonly HashSet<FieldRole> Common = [FieldRole.Title, FieldRole.Category, FieldRole.TaxCode, FieldRole.Brand];

    private readonly FieldDescription? _published = target.Fields.Find(FieldRole.Published) is { Writable: true } field ? field : null;

    private readonly HashSet<string> _mapped = [.. map.Fields.Select(f => f.Target.Name)];

    /// <summary>The fields that it sends.</summary>
    public IEnumerable<ReadyField> Sent => map.Fields.Where(f => ReadyMap.Sends(f.Mapping));

    /// <summary>The most records that a run creates; null: no limit.</summary>
    public int? Portion => map.Map.Publish.Portion;

    /// <inheritdoc/>
    public override Computed Compute(LanePair pair)
    {
        var place = pair.Item!;
        var publish = map.Map.Publish;
        if (place.Presence == Presence.OnlyThere)
            return publish.NewThere == NewThere.Follow ? CreateHere(pair) : Computed.OutOfScope;
        if (place.Presence == Presence.Gone)
            return Withdraw(pair, publish.WhenGone, "it is gone from the source");
        if (!map.Takes(pair.Source.Values, pair.Levels.Sum(l => l.OnHand - l.Allocated), place.HereAt))
            return Computed.OutOfScope;
        var hidden = source.Text(pair.Source.Values, FieldRole.Published) == "false";
        if (place.Presence != Presence.Paired)
        {
            var wanted =
                place.Presence == Presence.Chosen
                || publish.New == NewRecords.All
                || (publish.New == NewRecords.Variants && place.Presence == Presence.SisterThere);
            return wanted && (!hidden || place.Presence == Presence.Chosen) ? Create(pair) : Computed.OutOfScope;
        }

        if (hidden && publish.WhenHidden != Withdrawal.Leave)
            return Withdraw(pair, publish.WhenHidden, "it is hidden at the source");
        if (
            publish.WhenOutOfStock != Withdrawal.Leave
            && source.Text(pair.Source.Values, FieldRole.Tracked) != "false"
            && pair.Levels.Sum(l => l.OnHand - l.Allocated) <= 0
        )
            return Withdraw(pair, publish.WhenOutOfStock, "nothing of it is available");
        return Update(pair);
    }

    private Computed? Unreadable(SideRecord record)
    {
        // What cannot be read is in the way only where the map looks at it.
        var problem = record.Problems.FirstOrDefault(p => map.Looks.Contains(p.Field));
        return problem is null ? null : new Computed([], "unreadable", $"source: {problem.Message}");
    }

    private Computed Update(LanePair pair)
    {
        if (Unreadable(pair.Source) is { } unreadable)
            return unreadable;
        var place = pair.Item!;
        var mapped = RecordMapping.Compare(
            map,
            place.Record,
            field => place.Agreed.TryGetValue(field, out var agreed) ? new LastAgreed(agreed.Value) : null,
            place.HereAt,
            place.ThereAt
        );
        if (mapped.Failure is { } failure)
            return Failed(failure);
        // What goes to the target stands before what comes back from it, each in the map's order.
        var (fields, returned) = (new List<ComputedField>(mapped.Fields.Count), new List<ComputedField>());
        var baseline = new List<(string, string?)>();
        string? hold = null,
            emptied = null;
        foreach (var field in mapped.Fields)
        {
            var verdict = field.Verdict;
            switch (verdict.Movement)
            {
                case Movement.Send or Movement.Ask:
                    fields.Add(
                        new ComputedField(
                            field.Field.Target,
                            field.There,
                            field.Here,
                            Trace(field, place.Record),
                            Asks: verdict.Movement == Movement.Ask
                        )
                    );
                    if (verdict.Movement == Movement.Ask)
                        hold ??=
                            $"{field.Field.Target.Label} was changed on both sides: here “{Short(field.Here)}”, there "
                            + $"“{Short(field.There)}”; sending it puts what is here in its place";
                    if (field.Here is null && Shapes.Of(field.Field.Target.Type) is Shape.Text or Shape.Html)
                        emptied ??= field.Field.Target.Label;
                    break;
                case Movement.TakeBack:
                    var back = field.Field.Back!.Source;
                    returned.Add(
                        new ComputedField(
                            back,
                            pair.Source.Values.GetValueOrDefault(back.Name),
                            field.Back,
                            [
                                new TraceStep("target", null, field.There, $"{field.Field.Target.Label} at the target"),
                                new TraceStep("compare", field.Here, field.There, verdict.Why),
                                new TraceStep("back", field.There, field.Back, "the chain turned round"),
                            ],
                            ToSource: true
                        )
                    );
                    break;
                default:
                    if (
                        verdict.Movement == Movement.None
                        && field.Field.Mapping.Owner == Owner.Nobody
                        && !(place.Agreed.TryGetValue(field.Field.Target.Name, out var had) && had.Value == field.There)
                    )
                        baseline.Add((field.Field.Target.Name, field.There));
                    break;
            }
        }

        if (ShowsAgain(pair) is { } shown)
            fields.Insert(0, shown);
        return new Computed([.. fields, .. returned], Hold: hold)
        {
            Guarded = new GuardedChange(pair.Name, Emptied: emptied),
            Baseline = baseline,
        };
    }

    // What this lane hid itself is shown again once the reason is gone.
    private ComputedField? ShowsAgain(LanePair pair) =>
        _published is { } field
        && !_mapped.Contains(field.Name)
        && pair.Target.Values.GetValueOrDefault(field.Name) == "false"
        && pair.Item!.Agreed.TryGetValue(field.Name, out var agreed)
        && agreed.Value == "false"
            ? new ComputedField(
                field,
                "false",
                "true",
                [new TraceStep("publish", "false", "true", "this lane had hidden it, and the reason is gone")]
            )
            : null;

    private Computed Create(LanePair pair)
    {
        if (!target.Creates)
            return new Computed([], "cannotCreate", "the target's description says nothing of how records are created");
        if (Unreadable(pair.Source) is { } unreadable)
            return unreadable;
        var mapped = RecordMapping.Create(map, pair.Item!.Record);
        if (mapped.Failure is { } failure)
            return Failed(failure);
        if (
            mapped.Fields.FirstOrDefault(f => f.Field?.Target.Role == FieldRole.Sku).Here is { } sku
            && pair.Item.WithSku?.Invoke(sku) is { } taken
        )
            return new Computed([], "skuThere", $"the target's record {taken} has the SKU {sku} already; pair the two at the pair desk");
        var fields = mapped.Fields.Select(f => new ComputedField(f.Field.Target, null, f.Here, Trace(f, pair.Item.Record))).ToList();
        if (_published is { } published && !_mapped.Contains(published.Name))
            fields.Add(
                new ComputedField(
                    published,
                    null,
                    map.Map.Publish.Live ? "true" : "false",
                    [
                        new TraceStep(
                            "publish",
                            null,
                            map.Map.Publish.Live ? "true" : "false",
                            map.Map.Publish.Live ? "new records go live" : "new records are drafts"
                        ),
                    ]
                )
            );
        var guarded = new GuardedChange(pair.Name);
        string? hold = null;
        foreach (var (first, what) in new[] { (firstPrice, "price"), (firstQuantity, "quantity") })
        {
            if (first is null)
                continue;
            var computed = first.Compute(pair);
            if (computed.Cause is { } cause)
                return new Computed([], cause, $"its first {what}: {computed.Message}");
            fields.AddRange(computed.Fields.Where(f => f.New is not null && f.Field.Writable));
            hold ??= computed.Hold;
            if (what == "price")
                guarded = computed.Guarded;
        }

        var missing = target.Fields.Fields.FirstOrDefault(f =>
            f is { Required: true, Writable: true } && fields.TrueForAll(c => c.Field.Name != f.Name)
        );
        return missing is not null
            ? new Computed([], "required", $"{missing.Label} is required at the target, and nothing is mapped to it")
            : new Computed([.. fields.OrderByDescending(f => f.Field.Role == FieldRole.Title)], Hold: hold)
            {
                Act = WriteAct.Create,
                Guarded = guarded,
            };
    }

    // A variant that appeared at the target, made an item of the source: by the chains turned round, and for the rest as its sister is.
    private Computed CreateHere(LanePair pair)
    {
        if (!createsHere)
            return new Computed([], "cannotCreate", "the source's description says nothing of how records are created");
        var (there, sister) = (pair.Target.Values, pair.Item!.Record.Parent);
        var crosswalks = map.Map.Crosswalks.ToDictionary(c => c.Name, StringComparer.Ordinal);
        var fields = new List<ComputedField>();
        foreach (var mapping in map.Fields)
        {
            if (
                there.GetValueOrDefault(mapping.Target.Name) is not { } value
                || Reversal.Of(mapping.Mapping, source, crosswalks).ValueOrDefault is not { } back
                || back.Run(value) is not { } mine
                || fields.Exists(f => f.Field.Name == back.Source.Name)
            )
                continue;
            fields.Add(
                new ComputedField(
                    back.Source,
                    null,
                    mine,
                    [
                        new TraceStep("target", null, value, $"{mapping.Target.Label} at the target"),
                        new TraceStep("back", value, mine, "the chain turned round"),
                    ],
                    ToSource: true
                )
            );
        }

        var option = source.Find(FieldRole.Option);
        foreach (
            var field in source.Fields.Where(f =>
                f.Writable && (f.Required || Common.Contains(f.Role)) && fields.TrueForAll(had => had.Field.Name != f.Name)
            )
        )
        {
            if (sister?.GetValueOrDefault(field.Name) is not { } value)
                continue;
            // A name that ends with its option ends with the new one's.
            if (
                field.Role == FieldRole.Title
                && option is not null
                && sister.GetValueOrDefault(option.Name) is { Length: > 0 } old
                && value.EndsWith(old, StringComparison.Ordinal)
                && fields.Find(f => f.Field.Name == option.Name)?.New is { } its
            )
                value = value[..^old.Length] + its;
            fields.Add(
                new ComputedField(
                    field,
                    null,
                    value,
                    [new TraceStep("sister", null, value, $"as its sister {pair.Item.Record.ParentKey} has it")],
                    ToSource: true
                )
            );
        }

        if (fields.Find(f => f.Field.Role == FieldRole.Sku)?.New is { } sku && pair.Item.WithSku?.Invoke(sku) is { } taken)
            return new Computed([], "skuHere", $"the source's record {taken} has the SKU {sku} already; pair the two at the pair desk");
        var missing = source.Fields.FirstOrDefault(f =>
            f is { Required: true, Writable: true } && fields.TrueForAll(had => had.Field.Name != f.Name)
        );
        return missing is not null
            ? new Computed([], "required", $"{missing.Label} is required at the source, and nothing flows back to it")
            : new Computed([.. fields.OrderByDescending(f => f.Field.Role == FieldRole.Title)])
            {
                Act = WriteAct.Create,
                Guarded = new GuardedChange(pair.Name),
            };
    }

    private Computed Withdraw(LanePair pair, Withdrawal way, string why)
    {
        if (way == Withdrawal.Leave)
            return Computed.OutOfScope;
        var there = _published is null ? null : pair.Target.Values.GetValueOrDefault(_published.Name);
        if (way == Withdrawal.End && target.Ends)
        {
            IReadOnlyList<ComputedField> ended = _published is null
                ? []
                : [new ComputedField(_published, there, null, [new TraceStep("publish", there, null, $"{why}, so its listing is ended")])];
            return new Computed(ended) { Act = WriteAct.End, Guarded = new GuardedChange(pair.Name, Removes: true) };
        }

        if (_published is null)
            return new Computed([], "cannotHide", $"{why}, and the target lets its records be neither ended nor hidden");
        if (pair.Item!.SistersStay)
            return new Computed(
                [],
                "sistersSold",
                $"{why}, and hiding it would hide its whole product, whose other variants are still sold; let such listings be "
                    + $"ended instead, or take this one out there by hand"
            );
        return new Computed([
            new ComputedField(_published, there, "false", [new TraceStep("publish", there, "false", $"{why}, so it is hidden")]),
        ])
        {
            Guarded = new GuardedChange(pair.Name, Removes: there != "false"),
        };
    }

    private static Computed Failed(string failure) =>
        new([], failure.Contains("the crosswalk “", StringComparison.Ordinal) ? "crosswalk" : "map", failure);

    // Most traces are never looked at: a trial of a map needs none, and a run only those of what changes.
    private static TraceLater Trace(MappedField field, MapRecord record) =>
        new(() =>
        {
            var trace = new List<TraceStep>();
            field.Field.Chain.Trace(record, trace);
            trace.Add(
                new TraceStep(
                    "compare",
                    field.There,
                    field.Here,
                    string.Create(CultureInfo.InvariantCulture, $"{field.Verdict.Why}; {FieldComparison.How(field.Field.Target.Type)}")
                )
            );
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
