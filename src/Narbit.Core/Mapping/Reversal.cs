using System.Globalization;
using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>
/// A chain turned round: the source's value for a value of the target. Only chains whose every step can be undone have one.
/// </summary>
public sealed class Reversal
{
    private readonly List<Func<string, string?>> _steps;

    private Reversal(FieldDescription source, List<Func<string, string?>> steps) => (Source, _steps) = (source, steps);

    /// <summary>The source's field that is written.</summary>
    public FieldDescription Source { get; }

    /// <summary>Turns a mapping round.</summary>
    /// <param name="mapping">The mapping, checked.</param>
    /// <param name="source">The source's fields.</param>
    /// <param name="crosswalks">The lane's crosswalks by name.</param>
    /// <returns>The reversal, or why there is none.</returns>
    public static Outcome<Reversal> Of(FieldMapping mapping, FieldSet source, IReadOnlyDictionary<string, Crosswalk> crosswalks)
    {
        if (mapping.Source is not { Fields: [var name], Record: SourceRecord.Own, Constant: null })
            return new Reason("reversal", "it may flow back only from a single field of the source");
        var field = source.Fields.FirstOrDefault(f => f.Name == name);
        if (field is not { Writable: true })
            return new Reason("reversal", $"“{field?.Label ?? name}” cannot be written at the source");
        var steps = new List<Func<string, string?>>();
        foreach (var step in mapping.Steps)
        {
            string With(string parameter) => step.With?.GetValueOrDefault(parameter) ?? "";
            switch (step.Do)
            {
                case "trim" or "collapse":
                    break;
                case "scale" when decimal.Parse(With("by"), CultureInfo.InvariantCulture) is var by and not 0:
                    steps.Insert(0, value => Numbers.Plain(decimal.Parse(value, CultureInfo.InvariantCulture) / by));
                    break;
                case "unit":
                    var turned = StepCatalogue.Find("unit")!;
                    var run = turned.Make(
                        new StepArguments(
                            new Dictionary<string, string> { ["from"] = With("to"), ["to"] = With("from") },
                            turned,
                            _ => null,
                            crosswalks,
                            Shape.Number
                        )
                    );
                    if (run.Fault is { } fault)
                        return fault;
                    steps.Insert(0, value => run.Value(new MapValue(value), new MapRecord(new Dictionary<string, string>())).Value.Text);
                    break;
                case "surround":
                    var (before, after) = (With("before"), With("after"));
                    steps.Insert(
                        0,
                        value =>
                            value.Length >= before.Length + after.Length
                            && value.StartsWith(before, StringComparison.Ordinal)
                            && value.EndsWith(after, StringComparison.Ordinal)
                                ? value[before.Length..^after.Length]
                                : null
                    );
                    break;
                case "crosswalk" when crosswalks.TryGetValue(With("table"), out var table):
                    if (
                        table
                            .Entries.GroupBy(e => e.To, StringComparer.OrdinalIgnoreCase)
                            .FirstOrDefault(g => g.Select(e => e.From).Distinct(StringComparer.OrdinalIgnoreCase).Count() > 1) is
                        { } many
                    )
                        return new Reason(
                            "reversal",
                            $"several codes become “{many.Key}” in the crosswalk “{table.Name}”, so that it cannot be told "
                                + $"which to go back to"
                        );
                    var back = table
                        .Entries.GroupBy(e => e.To.Trim(), StringComparer.OrdinalIgnoreCase)
                        .ToDictionary(g => g.Key, g => g.First().From, StringComparer.OrdinalIgnoreCase);
                    steps.Insert(
                        0,
                        value =>
                            back.TryGetValue(value.Trim(), out var code) ? code
                            : table.Unlisted == Unlisted.Keep ? value
                            : null
                    );
                    break;
                default:
                    return new Reason("reversal", $"“{StepCatalogue.Find(step.Do)?.Label ?? step.Do}” cannot be undone");
            }
        }

        return new Reversal(field, steps);
    }

    /// <summary>The source's value for a value of the target; null where there is none.</summary>
    /// <param name="value">The target's canonical value.</param>
    public string? Run(string value)
    {
        string? at = value;
        foreach (var step in _steps)
        {
            if (at is null)
                return null;
            at = step(at);
        }

        return at;
    }
}
