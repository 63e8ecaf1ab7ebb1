using System.Globalization;
using System.Text.RegularExpressions;

namespace Narbit.Core.Mapping.Steps;

/// <summary>Steps that work on text.</summary>
internal static class TextSteps
{
    /// <summary>The longest that a pattern may work on one value.</summary>
    public static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(50);

    // A pattern that was too slow on so many values is not tried on a hundred thousand more.
    // What is longer takes seconds to be read.
    private const int LongestPattern = 2_000;

    private const int MostTimeouts = 5;

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        Of("trim", "trim spaces at both ends", _ => text => text.Trim()),
        Of("collapse", "collapse runs of spaces to one", _ => Collapse),
        Of(
            "case",
            "change case",
            a =>
            {
                var to = a.Text("to");
                return text => Cased(text, to);
            },
            new StepParameter("to", "to", ParameterKind.Choice, Required: true, Choices: ["upper", "lower", "title", "sentence"])
        ),
        Of(
            "limit",
            "limit the length",
            a =>
            {
                var (length, word, ellipsis) = (a.Whole("length"), a.Is("at", "word"), a.Is("ellipsis", "yes"));
                return text => LimitedText.Of(text, length, word, ellipsis);
            },
            a => a.Whole("length") < 1 ? "the length must be at least 1" : null,
            new StepParameter("length", "to, characters", ParameterKind.Whole, Required: true),
            new StepParameter("at", "cut at", ParameterKind.Choice, Default: "word", Choices: ["word", "letter"]),
            new StepParameter("ellipsis", "with …", ParameterKind.Choice, Default: "no", Choices: ["no", "yes"])
        ),
        Of(
            "replace",
            "replace text",
            a =>
            {
                var (find, by) = (a.Text("find"), a.Text("by"));
                return text => text.Replace(find, by, StringComparison.Ordinal);
            },
            new StepParameter("find", "find", ParameterKind.Text, Required: true),
            new StepParameter("by", "put", ParameterKind.Text)
        ),
        Pattern(
            "pattern",
            "replace by pattern",
            (regex, a) =>
            {
                var by = a.Text("by");
                return text => regex.Replace(text, by);
            },
            new StepParameter("by", "put ($1 is the first group)", ParameterKind.Text)
        ),
        Pattern(
            "extract",
            "take what a pattern finds",
            (regex, _) =>
                text =>
                    regex.Match(text) is { Success: true } m
                        ? m.Groups.Count > 1
                            ? m.Groups[1].Value
                            : m.Value
                        : null
        ),
        Of(
            "surround",
            "put text around",
            a =>
            {
                var (before, after) = (a.Text("before"), a.Text("after"));
                return text => before + text + after;
            },
            new StepParameter("before", "before", ParameterKind.Text),
            new StepParameter("after", "after", ParameterKind.Text)
        ),
        new()
        {
            Do = "without",
            Label = "take off its end what a field says",
            Group = "Text",
            Takes = Shape.Text,
            Gives = Shape.Text,
            Parameters = [new StepParameter("field", "field", ParameterKind.Field, Required: true)],
            Make = a =>
            {
                var field = a.Text("field");
                if (a.Fields(field) is null)
                    return new Reason("step", $"there is no field “{field}”");
                return new StepRun((value, record) => Without(value.Text!, record.Own.GetValueOrDefault(field)));
            },
        },
    ];

    // A name that is nothing but its end keeps it.
    private static string Without(string text, string? end) =>
        string.IsNullOrEmpty(end)
        || text.Length <= end.Length
        || !text.EndsWith(end, StringComparison.OrdinalIgnoreCase)
        || text[..^end.Length].TrimEnd(' ', ',', '(', '-', '–') is not { Length: > 0 } rest
        || char.IsLetterOrDigit(text[^(end.Length + 1)])
            ? text
            : rest;

    private static string Collapse(string text)
    {
        var kept = new System.Text.StringBuilder(text.Length);
        foreach (var c in text)
        {
            if (!char.IsWhiteSpace(c))
                kept.Append(c);
            else if (kept.Length > 0 && kept[^1] != ' ')
                kept.Append(' ');
        }

        return kept.ToString().TrimEnd();
    }

    private static string Cased(string text, string to) =>
        to switch
        {
            "upper" => text.ToUpperInvariant(),
            "lower" => text.ToLowerInvariant(),
            "title" => CultureInfo.InvariantCulture.TextInfo.ToTitleCase(text.ToLowerInvariant()),
            _ => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..].ToLowerInvariant(),
        };

    private static StepKind Of(
        string name,
        string label,
        Func<StepArguments, Func<string, string?>> make,
        params StepParameter[] parameters
    ) => Of(name, label, make, _ => null, parameters);

    private static StepKind Of(
        string name,
        string label,
        Func<StepArguments, Func<string, string?>> make,
        Func<StepArguments, string?> check,
        params StepParameter[] parameters
    ) =>
        new()
        {
            Do = name,
            Label = label,
            Group = "Text",
            Takes = Shape.Text | Shape.Number,
            Gives = Shape.Text,
            Parameters = parameters,
            Make = a =>
            {
                if (check(a) is { } fault)
                    return new Reason("step", fault);
                var act = make(a);
                return new StepRun((value, _) => act(value.Text!));
            },
        };

    private static StepKind Pattern(
        string name,
        string label,
        Func<Regex, StepArguments, Func<string, string?>> make,
        params StepParameter[] more
    ) =>
        new()
        {
            Do = name,
            Label = label,
            Group = "Text",
            Takes = Shape.Text,
            Gives = Shape.Text,
            Parameters = [new StepParameter("find", "pattern", ParameterKind.Pattern, Required: true), .. more],
            Make = a =>
            {
                if (a.Text("find").Length > LongestPattern)
                    return new Reason("step", $"the pattern has more than {LongestPattern:N0} characters");
                Regex regex;
                try
                {
                    regex = new Regex(a.Text("find"), RegexOptions.CultureInvariant, Patience);
                }
                catch (ArgumentException error)
                {
                    return new Reason("step", $"the pattern cannot be read: {error.Message.Split(" - ", 2)[^1].TrimEnd('.')}");
                }

                var act = make(regex, a);
                var timeouts = 0;
                return new StepRun(
                    (value, _) =>
                    {
                        if (Volatile.Read(ref timeouts) >= MostTimeouts)
                            return StepResult.Fail(
                                $"the pattern took longer than {Patience.TotalMilliseconds:0} ms on {MostTimeouts} values and "
                                    + $"is not tried on more; write it so that no part can match in many ways"
                            );
                        try
                        {
                            return act(value.Text!);
                        }
                        catch (RegexMatchTimeoutException)
                        {
                            Interlocked.Increment(ref timeouts);
                            return StepResult.Fail(
                                $"the pattern took longer than {Patience.TotalMilliseconds:0} ms on this value; it probably "
                                    + $"tries one part in many ways (a repeat within a repeat)"
                            );
                        }
                    }
                );
            },
        };
}
