using System.Globalization;
using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>
/// A field mapping made ready: its steps checked against each other and against both fields. Safe to use from several threads.
/// </summary>
public sealed class Chain
{
    private static readonly IReadOnlyDictionary<string, string> Nothing = new Dictionary<string, string>();

    private readonly (StepKind Kind, IReadOnlyDictionary<string, string> With, StepRun Run)[] _steps;
    private readonly Shape _in;
    private readonly bool _asItIs;

    private Chain(
        FieldMapping mapping,
        FieldDescription target,
        Shape @in,
        (StepKind, IReadOnlyDictionary<string, string>, StepRun)[] steps,
        Shape gives,
        IReadOnlySet<string> looks
    )
    {
        Mapping = mapping;
        Target = target;
        _in = @in;
        _steps = steps;
        Gives = gives;
        Looks = looks;
        _asItIs = steps.Length == 0 && mapping.Source is { Fields: [_], Record: SourceRecord.Own };
    }

    /// <summary>The mapping.</summary>
    public FieldMapping Mapping { get; }

    /// <summary>The target's field.</summary>
    public FieldDescription Target { get; }

    /// <summary>The shape after the last step.</summary>
    public Shape Gives { get; }

    /// <summary>The fields of the source's own record that its source or any step looks at.</summary>
    public IReadOnlySet<string> Looks { get; }

    /// <summary>Makes a mapping ready.</summary>
    /// <param name="mapping">The mapping.</param>
    /// <param name="path">Where it stands in its document.</param>
    /// <param name="sides">Both systems.</param>
    /// <param name="crosswalks">The lane's crosswalks by name.</param>
    /// <param name="faults">Where what does not fit is added, in words.</param>
    /// <returns>The chain, or null where it does not fit.</returns>
    public static Chain? Make(
        FieldMapping mapping,
        string path,
        MapSides sides,
        IReadOnlyDictionary<string, Crosswalk> crosswalks,
        ICollection<RuleFault> faults
    )
    {
        var target = sides.Target.Fields.FirstOrDefault(f => f.Name == mapping.Target);
        if (target is null)
            return Refuse(
                $"{path}.target",
                $"the target has no field “{mapping.Target}” any more; take it out of the map, or amend the system's description"
            );
        if (SourceShape(mapping.Source, sides, path, Refuse) is not { } shape)
            return null;
        var looks = new HashSet<string>(
            mapping.Source.Record == SourceRecord.Own ? mapping.Source.Fields ?? [] : [],
            StringComparer.Ordinal
        );
        Shape? FieldShape(string name)
        {
            if (sides.Source.Fields.FirstOrDefault(f => f.Name == name) is not { } field)
                return null;
            looks.Add(name);
            return Shapes.Of(field.Type);
        }

        var start = shape;
        var steps = new (StepKind, IReadOnlyDictionary<string, string>, StepRun)[mapping.Steps.Count];
        for (var i = 0; i < steps.Length; i++)
        {
            var (step, at) = (mapping.Steps[i], $"{path}.steps[{i}]");
            if (StepCatalogue.Find(step.Do) is not { } kind)
                return Refuse(at, $"there is no step “{step.Do}”");
            var with = step.With ?? Nothing;
            if (StepCatalogue.ParameterFault(kind, with) is { } wrong)
                return Refuse(at, $"“{kind.Label}”: {wrong}");
            if (!kind.Takes.HasFlag(shape))
                return Refuse(
                    at,
                    $"“{kind.Label}” takes {kind.Takes.Words()}, and "
                        + $"{(i == 0 ? "the source" : $"“{StepCatalogue.Find(mapping.Steps[i - 1].Do)!.Label}”")} gives "
                        + $"{shape.Words()}{Advice(shape, kind.Takes)}"
                );
            var arguments = new StepArguments(with, kind, FieldShape, crosswalks, shape);
            var run = kind.Make(arguments);
            if (run.Fault is { } fault)
                return Refuse(at, $"“{kind.Label}”: {fault.Words}");
            steps[i] = (kind, with, run.Value);
            shape = kind.Shaped?.Invoke(arguments) ?? kind.Gives ?? shape;
        }

        return Unfit(shape, target) is { } unfit ? Refuse(path, unfit) : new Chain(mapping, target, start, steps, shape, looks);

        Chain? Refuse(string where, string message)
        {
            faults.Add(new RuleFault(where, Severity.Refuse, $"{target?.Label ?? mapping.Target}: {message}"));
            return null;
        }
    }

    /// <summary>The value that the target should have.</summary>
    /// <param name="record">The source's record and what stands around it.</param>
    public ChainResult Run(MapRecord record)
    {
        record = Looked(record);
        if (_asItIs)
            return Fit(record.Own.GetValueOrDefault(Mapping.Source.Fields![0]));
        var value = Start(record);
        foreach (var (kind, _, run) in _steps)
        {
            if (value.IsMissing && !kind.SeesMissing)
                continue;
            var result = run(value, record);
            if (result.Failure is { } failure)
                return new ChainResult(null, Of(kind, failure));
            value = result.Value;
        }

        return Fit(value.Canonical);
    }

    /// <summary>The same, with the value after each step.</summary>
    /// <param name="record">The source's record and what stands around it.</param>
    /// <param name="trace">Where the steps are added.</param>
    public ChainResult Trace(MapRecord record, ICollection<TraceStep> trace)
    {
        var around = Target.Shared && record.Parent is not null;
        record = Looked(record);
        var value = Start(record);
        trace.Add(
            new TraceStep(
                "source",
                null,
                value.Canonical,
                around ? $"{SourceWords()}, of the first of its group: sisters have {Target.Label} in common at the target" : SourceWords()
            )
        );
        foreach (var (kind, with, run) in _steps)
        {
            if (value.IsMissing && !kind.SeesMissing)
            {
                trace.Add(new TraceStep(kind.Do, null, null, $"{kind.Label}: a missing value {kind.Missing}"));
                continue;
            }

            var result = run(value, record);
            trace.Add(
                new TraceStep(
                    kind.Do,
                    value.Canonical,
                    result.Failure is null ? result.Value.Canonical : null,
                    result.Failure is { } failed ? Of(kind, failed).Words : Words(kind, with, result.Why)
                )
            );
            if (result.Failure is { } failure)
                return new ChainResult(null, Of(kind, failure));
            value = result.Value;
        }

        var fit = Fit(value.Canonical);
        if (fit.Failure is { } unfit)
            trace.Add(new TraceStep("target", value.Canonical, null, unfit.Words));
        return fit;
    }

    private static Reason Of(StepKind kind, Reason failure) =>
        (failure with { Words = $"{kind.Label}: {failure.Words}" }).With("do", kind.Do);

    // What sisters have in common at the target comes from one of them, or each would write over the others'.
    private MapRecord Looked(MapRecord record) =>
        Target.Shared && record.Parent is { } first ? record with { Own = first, Key = record.ParentKey } : record;

    /// <summary>A step and its parameters as a person reads them.</summary>
    private static string Words(StepKind kind, IReadOnlyDictionary<string, string> with, string? why)
    {
        var parameters = string.Join(
            ", ",
            kind.Parameters.Where(p => with.ContainsKey(p.Name) && p.Name is not "tags")
                .Select(p => $"{p.Label} {Said(p.Kind, with[p.Name])}")
        );
        return string.Concat(kind.Label, parameters.Length > 0 ? " " : "", parameters, why is null ? "" : $" ({why})");
    }

    // What a person typed stands between quotes.
    private static string Said(ParameterKind kind, string value) =>
        kind is ParameterKind.Text or ParameterKind.Pattern or ParameterKind.Expression ? $"“{value}”" : value;

    private string SourceWords() =>
        Mapping.Source switch
        {
            { Constant: not null } => "a constant",
            { Record: SourceRecord.Parent, Fields: var fields } => $"{string.Join(", ", fields!)} of the first of its group",
            { Record: SourceRecord.StockLevels, Fields: var fields } => $"{string.Join(", ", fields!)} of each stock level",
            { Record: SourceRecord.There, Fields: var fields } => $"{string.Join(", ", fields!)} as it is at the target",
            { Fields: var fields } => string.Join(", ", fields!),
        };

    private MapValue Start(MapRecord record)
    {
        var source = Mapping.Source;
        if (source.Constant is { } constant)
            return new MapValue(constant);
        var fields = source.Fields!;
        if (source.Record == SourceRecord.StockLevels)
            return new MapValue(null, [.. (record.Levels ?? []).Select(l => l.GetValueOrDefault(fields[0])).OfType<string>()]);
        if (fields.Count == 1)
            return MapValue.Of(_in, record.Value(source.Record, fields[0]));
        var list = new List<string>(fields.Count);
        foreach (var field in fields)
            if (record.Value(source.Record, field) is { Length: > 0 } value)
                list.AddRange(value.StartsWith("[\"", StringComparison.Ordinal) ? MapValue.ReadList(value) : [value]);
        return new MapValue(null, list);
    }

    // What the target's field demands of any value.
    private ChainResult Fit(string? value)
    {
        if (string.IsNullOrEmpty(value))
            return Target.Required ? Unfit(MapReasons.Required, "it is required there, and would be empty") : default;
        if (Target.MaxLength is { } most && value.Length > most)
            return Unfit(MapReasons.TooLong, $"it takes at most {most} characters, and would have {value.Length}; limit the length");
        return Target.Type switch
        {
            FieldType.Integer
                when decimal.TryParse(value, NumberStyles.Number, CultureInfo.InvariantCulture, out var n) && n != decimal.Truncate(n) =>
                Unfit(MapReasons.NotWhole, $"it takes whole numbers, and would be {value}; round it"),
            FieldType.Image when ImageAddress.Fault(value) is { } fault => Unfit(MapReasons.NoImage, fault),
            _ => new ChainResult(value),
        };

        static ChainResult Unfit(string code, string words) => new(null, new Reason(code, words));
    }

    private static Shape? SourceShape(MapSource source, MapSides sides, string path, Func<string, string, Chain?> refuse)
    {
        if (source.Constant is { } constant)
        {
            if (source.Fields is { Count: > 0 })
                _ = refuse($"{path}.source", "its source is both a constant and fields; keep one of them");
            else
                return decimal.TryParse(
                        constant,
                        NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                        CultureInfo.InvariantCulture,
                        out _
                    )
                        ? Shape.Number
                    : constant is "true" or "false" ? Shape.Truth
                    : Shape.Text;
            return null;
        }

        if (source.Fields is not { Count: > 0 } names)
        {
            _ = refuse($"{path}.source", "it has no source; choose a field, or give a constant");
            return null;
        }

        if (sides.Of(source.Record) is not { } set)
        {
            _ = refuse($"{path}.source", "the source has no stock levels");
            return null;
        }

        if (names.FirstOrDefault(n => set.Fields.All(f => f.Name != n)) is { } gone)
        {
            _ = refuse(
                $"{path}.source",
                $"the {(source.Record == SourceRecord.There ? "target" : "source")} has no field “{gone}” any more; choose "
                    + $"another, or amend the system's description"
            );
            return null;
        }

        return names.Count > 1 || source.Record == SourceRecord.StockLevels
            ? Shape.List
            : Shapes.Of(set.Fields.First(f => f.Name == names[0]).Type);
    }

    private static string? Unfit(Shape shape, FieldDescription target)
    {
        var wanted = Shapes.Of(target.Type);
        if (shape == wanted || wanted == Shape.Text && shape is Shape.Number or Shape.Truth && wanted == Shape.Text)
            return null;
        return $"the chain gives {shape.Words()}, and the field takes {wanted.Words()}{Advice(shape, wanted)}";
    }

    private static string Advice(Shape has, Shape wanted) =>
        (has, wanted) switch
        {
            (Shape.List, _) => ": join the list, or pick one of it",
            (Shape.Html, _) when wanted.HasFlag(Shape.Text) => ": take the text out of it first",
            (_, Shape.Html) => ": turn it into HTML first",
            (Shape.Text, Shape.Number) => ": read a number first",
            (Shape.Number, Shape.List) or (Shape.Text, Shape.List) => ": split it first",
            (Shape.Text, Shape.Truth) => ": read yes or no first",
            (Shape.Text, Shape.Day) or (Shape.Text, Shape.Instant) => ": read a date first",
            (Shape.Instant or Shape.Day, _) when wanted.HasFlag(Shape.Text) => ": write the date as text first",
            _ => "",
        };
}
