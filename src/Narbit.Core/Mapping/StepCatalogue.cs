using System.Globalization;
using System.Text.Json.Serialization;
using Narbit.Core.Mapping.Steps;

namespace Narbit.Core.Mapping;

/// <summary>What a step's parameter is.</summary>
[JsonConverter(typeof(CamelCaseEnum<ParameterKind>))]
public enum ParameterKind
{
    /// <summary>Any text, spaces included.</summary>
    Text,

    /// <summary>A whole number.</summary>
    Whole,

    /// <summary>A decimal number, with a point.</summary>
    Number,

    /// <summary>One of the given choices.</summary>
    Choice,

    /// <summary>A regular expression (.NET's).</summary>
    Pattern,

    /// <summary>The name of a field of the source.</summary>
    Field,

    /// <summary>The name of a crosswalk of the lane.</summary>
    Crosswalk,

    /// <summary>A language and region, e.g. <c>de-DE</c>.</summary>
    Locale,

    /// <summary>A time zone by its IANA name.</summary>
    Zone,

    /// <summary>An expression over field names.</summary>
    Expression,
}

/// <summary>A parameter of a step.</summary>
/// <param name="Name">Its name in <see cref="MapStep.With"/>.</param>
/// <param name="Label">The words before its value.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Required">Whether it must be there.</param>
/// <param name="Default">What holds where it is not there.</param>
/// <param name="Choices">For a choice: the words.</param>
public sealed record StepParameter(
    string Name,
    string Label,
    ParameterKind Kind,
    bool Required = false,
    string? Default = null,
    IReadOnlyList<string>? Choices = null
);

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

/// <summary>A kind of step: what it is called, what it takes and gives, what it does to a missing value, and how it is done.</summary>
public sealed record StepKind
{
    /// <summary>Its name in documents.</summary>
    public required string Do { get; init; }

    /// <summary>What it does, for a menu.</summary>
    public required string Label { get; init; }

    /// <summary>The part of the menu it stands in.</summary>
    public required string Group { get; init; }

    /// <summary>The shapes it takes.</summary>
    public required Shape Takes { get; init; }

    /// <summary>The shape it gives; null: the one it got, or one that its parameters say.</summary>
    public Shape? Gives { get; init; }

    /// <summary>What it does to a missing value, in words.</summary>
    public string Missing { get; init; } = "stays missing";

    /// <summary>Its parameters.</summary>
    public IReadOnlyList<StepParameter> Parameters { get; init; } = [];

    /// <summary>Whether the step is done to a missing value too.</summary>
    internal bool SeesMissing { get; init; }

    /// <summary>The shape it gives, where it depends.</summary>
    internal Func<StepArguments, Shape>? Shaped { get; init; }

    /// <summary>Makes the step ready, or says why its parameters are wrong.</summary>
    internal Func<StepArguments, Outcome<StepRun>> Make { get; init; } = _ => new Reason("step", "it does nothing yet");
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
