using System.Globalization;
using Narbit.Core.Mapping.Steps;

namespace Narbit.Core.Mapping;

/// <summary>What came out of a step: a value, or why there is none.</summary>
/// <param name="Value">The value.</param>
/// <param name="Failure">Why the record cannot be mapped; null: it can.</param>
/// <param name="Why">What the step did, where that is not plain from the values.</param>
internal readonly record struct StepResult(MapValue Value, Reason? Failure = null, string? Why = null)
{
    public static implicit operator StepResult(MapValue value) => new(value);

    public static implicit operator StepResult(string? text) => new(new MapValue(text));

    /// <summary>The step cannot be done with this value.</summary>
    public static StepResult Fail(string words) => Fail(new Reason(MapReasons.Step, words));

    public static StepResult Fail(Reason failure) => new(MapValue.Missing, failure);
}

/// <summary>Does a step.</summary>
internal delegate StepResult StepRun(MapValue value, MapRecord record);

/// <summary>What a step is made from: its parameters, and what the chain around it knows.</summary>
/// <param name="With">The parameters.</param>
/// <param name="Kind">The step's kind, for the defaults.</param>
/// <param name="Fields">The shape of a source field; null where there is no such field.</param>
/// <param name="Crosswalks">The lane's crosswalks.</param>
/// <param name="In">The shape that comes in.</param>
internal sealed record StepArguments(
    IReadOnlyDictionary<string, string> With,
    StepKind Kind,
    Func<string, Shape?> Fields,
    IReadOnlyDictionary<string, Crosswalk> Crosswalks,
    Shape In
)
{
    public string? Find(string name) => With.GetValueOrDefault(name) ?? Kind.Parameters.First(p => p.Name == name).Default;

    public string Text(string name) => Find(name) ?? "";

    public int Whole(string name) => int.Parse(Text(name), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture);

    public decimal Number(string name) =>
        decimal.Parse(Text(name), NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture);

    public bool Is(string name, string choice) => string.Equals(Text(name), choice, StringComparison.Ordinal);
}

/// <summary>Every step that a chain may have.</summary>
public static class StepCatalogue
{
    /// <summary>The kinds, in the order of the menu.</summary>
    public static IReadOnlyList<StepKind> Kinds { get; } =
    [.. TextSteps.Kinds, .. HtmlSteps.Kinds, .. NumberSteps.Kinds, .. DateSteps.Kinds, .. CodeSteps.Kinds, .. ListSteps.Kinds];

    private static readonly Dictionary<string, StepKind> ByName = Kinds.ToDictionary(k => k.Do, StringComparer.Ordinal);

    /// <summary>The kind with a name, or null.</summary>
    public static StepKind? Find(string name) => ByName.GetValueOrDefault(name);

    /// <summary>What is wrong with a step's parameters by themselves, in words; null: nothing.</summary>
    internal static string? ParameterFault(StepKind kind, IReadOnlyDictionary<string, string> with)
    {
        foreach (var name in with.Keys)
            if (kind.Parameters.All(p => p.Name != name))
                return $"unknown parameter “{name}”";
        foreach (var parameter in kind.Parameters)
        {
            var text = with.GetValueOrDefault(parameter.Name);
            if (string.IsNullOrEmpty(text))
            {
                if (parameter.Required)
                    return $"{parameter.Label} is missing";
                continue;
            }

            var fault = parameter.Kind switch
            {
                ParameterKind.Whole when !int.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out _) =>
                    "is no whole number",
                ParameterKind.Number
                    when !decimal.TryParse(
                        text,
                        NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                        CultureInfo.InvariantCulture,
                        out _
                    ) => "is no number",
                ParameterKind.Choice when !parameter.Choices!.Contains(text) => $"is not one of {string.Join(", ", parameter.Choices!)}",
                _ => null,
            };
            if (fault is not null)
                return $"{parameter.Label}: “{text}” {fault}";
        }

        return null;
    }
}
