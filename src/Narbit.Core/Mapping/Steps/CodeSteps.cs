using System.Globalization;
using Narbit.Core.Pairing;
using NCalc;
using NCalc.Exceptions;

namespace Narbit.Core.Mapping.Steps;

/// <summary>Steps that translate, decide, compute and check.</summary>
internal static class CodeSteps
{
    private const Shape Any = Shape.Text | Shape.Html | Shape.Number | Shape.Truth | Shape.Instant | Shape.Day | Shape.List;
    private const Shape Single = Any & ~Shape.List;
    private const int LongestExpression = 1000;
    private const int LongestResult = 1_000_000;
    private static readonly IReadOnlyList<string> Tests =
    [
        "equals",
        "notEquals",
        "empty",
        "notEmpty",
        "greater",
        "less",
        "contains",
        "oneOf",
        "under",
    ];

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "crosswalk",
            Label = "translate by a crosswalk",
            Group = "Codes",
            Takes = Single | Shape.List,
            Missing = "stays missing",
            Shaped = a => a.In == Shape.List ? Shape.List : Shape.Text,
            Parameters = [new StepParameter("table", "table", ParameterKind.Crosswalk, Required: true)],
            Make = Translate,
        },
        new()
        {
            Do = "default",
            Label = "put something where there is nothing",
            Group = "Decide",
            Takes = Any,
            SeesMissing = true,
            Missing = "becomes the default",
            Shaped = a => a.In,
            Parameters = [new StepParameter("value", "value", ParameterKind.Text, Required: true)],
            Make = a =>
            {
                var constant = a.Text("value");
                if (Unfit(constant, a.In) is { } fault)
                    return fault;
                var value = a.In == Shape.List ? new MapValue(null, [constant]) : new MapValue(constant);
                return new StepRun((got, _) => got.IsMissing ? new StepResult(value, Why: "there was nothing") : got);
            },
        },
        new()
        {
            Do = "when",
            Label = "decide by a condition",
            Group = "Decide",
            Takes = Any,
            SeesMissing = true,
            Missing = "is looked at like any other",
            Shaped = a => Chosen(a, "then") == a.In && Chosen(a, "else") == a.In ? a.In : Shape.Text,
            Parameters =
            [
                new StepParameter("field", "if field (empty: this value)", ParameterKind.Field),
                new StepParameter("is", "is", ParameterKind.Choice, Default: "equals", Choices: Tests),
                new StepParameter("value", "value", ParameterKind.Text),
                new StepParameter("then", "then put", ParameterKind.Text, Default: "{}"),
                new StepParameter("else", "else put", ParameterKind.Text, Default: "{}"),
            ],
            Make = a =>
            {
                var field = a.Find("field");
                if (!string.IsNullOrEmpty(field) && a.Fields(field) is null)
                    return new Reason("step", $"there is no field “{field}”");
                if (a.In == Shape.List && (Chosen(a, "then") != Shape.List || Chosen(a, "else") != Shape.List))
                    return new Reason("step", "it gets a list; join it or pick one of it first");
                var test = new MapFilter(field ?? "", Enum.Parse<Test>(a.Text("is"), ignoreCase: true), a.Find("value"));
                var (then, otherwise) = (a.Text("then"), a.Text("else"));
                return new StepRun(
                    (value, record) =>
                    {
                        var looked = string.IsNullOrEmpty(field) ? value.Canonical : record.Own.GetValueOrDefault(field);
                        var holds = Tested.Holds(test, looked);
                        var put = holds ? then : otherwise;
                        return new StepResult(
                            put == "{}"
                                ? value
                                : new MapValue(put.Length == 0 ? null : put.Replace("{}", value.Text, StringComparison.Ordinal)),
                            Why: $"{(string.IsNullOrEmpty(field) ? "it" : field)} "
                                + $"{(looked is null ? "is missing" : $"is “{Short(looked)}”")}: {(holds ? "then" : "else")}"
                        );
                    }
                );
            },
        },
        new()
        {
            Do = "expression",
            Label = "compute by an expression",
            Group = "Decide",
            Takes = Any,
            SeesMissing = true,
            Missing = "is 0 in a number, and empty in a text",
            Shaped = a =>
                a.Text("gives") switch
                {
                    "text" => Shape.Text,
                    "truth" => Shape.Truth,
                    _ => Shape.Number,
                },
            Parameters =
            [
                new StepParameter("formula", "formula, with [field] and [value]", ParameterKind.Expression, Required: true),
                new StepParameter("gives", "gives", ParameterKind.Choice, Default: "number", Choices: ["number", "text", "truth"]),
            ],
            Make = Compute,
        },
        new()
        {
            Do = "check",
            Label = "check an identifier",
            Group = "Codes",
            Takes = Shape.Text,
            Gives = Shape.Text,
            Parameters = [new StepParameter("kind", "as", ParameterKind.Choice, Required: true, Choices: ["gtin", "currency", "country"])],
            Make = a =>
                a.Text("kind") switch
                {
                    "gtin" => new StepRun((value, _) => Gtin.Fault(value.Text) is { } fault ? StepResult.Fail(fault) : value.Text!.Trim()),
                    "currency" => Listed(IsoCodes.Currencies, "no currency of ISO 4217"),
                    _ => Listed(IsoCodes.Countries, "no country of ISO 3166-1"),
                },
        },
        new()
        {
            Do = "truth",
            Label = "read yes or no",
            Group = "Codes",
            Takes = Shape.Text | Shape.Number,
            Gives = Shape.Truth,
            Parameters =
            [
                new StepParameter("yes", "yes is written (by ;)", ParameterKind.Text, Default: "true;yes;y;1"),
                new StepParameter("no", "no is written (by ;)", ParameterKind.Text, Default: "false;no;n;0"),
            ],
            Make = a =>
            {
                var (yes, no) = (Words(a.Text("yes")), Words(a.Text("no")));
                return new StepRun(
                    (value, _) =>
                        yes.Contains(value.Text!.Trim()) ? "true"
                        : no.Contains(value.Text!.Trim()) ? "false"
                        : StepResult.Fail($"“{Short(value.Text!)}” is neither yes nor no")
                );
            },
        },
        new()
        {
            Do = "paired",
            Label = "the paired records at the target",
            Group = "Codes",
            Takes = Shape.Text | Shape.List,
            Shaped = a => a.In,
            Missing = "stays missing",
            Make = _ => new StepRun(
                (value, record) =>
                {
                    // What goes with itself would be shown beside itself.
                    string? There(string key) => key == record.Key ? null : record.Paired?.Invoke(key);
                    if (value.List is not { } list)
                        return There(value.Text!) is { } one ? one : new StepResult(MapValue.Missing, Why: "it is not at the target yet");
                    var found = list.Distinct(StringComparer.Ordinal).Select(There).OfType<string>().ToList();
                    return new StepResult(
                        new MapValue(null, found),
                        Why: found.Count == list.Count
                            ? null
                            : $"{list.Count - found.Count} of {list.Count} are not at the target yet, or are the record itself"
                    );
                }
            ),
        },
    ];

    private static string Short(string text) => text.Length <= 60 ? text : text[..59] + "…";

    private static HashSet<string> Words(string list) =>
        list.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).ToHashSet(StringComparer.OrdinalIgnoreCase);

    private static StepRun Listed(HashSet<string> codes, string fault) =>
        (value, _) =>
            value.Text!.Trim().ToUpperInvariant() is var code && codes.Contains(code)
                ? code
                : StepResult.Fail($"“{Short(value.Text!)}” is {fault}");

    private static Shape Chosen(StepArguments a, string name)
    {
        var constant = a.Text(name);
        return constant is "{}" or "" || Unfit(constant, a.In) is null ? a.In : Shape.Text;
    }

    private static Reason? Unfit(string constant, Shape shape) =>
        shape switch
        {
            Shape.Number
                when !decimal.TryParse(
                    constant,
                    NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                    CultureInfo.InvariantCulture,
                    out _
                ) => new Reason("step", $"“{Short(constant)}” is no number"),
            Shape.Truth when constant is not ("true" or "false") => new Reason("step", $"“{Short(constant)}” is neither true nor false"),
            Shape.Day when !DateOnly.TryParseExact(constant, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _) =>
                new Reason("step", $"“{Short(constant)}” is no date like 2026-11-24"),
            Shape.Instant when !DateTimeOffset.TryParse(constant, CultureInfo.InvariantCulture, out _) => new Reason(
                "step",
                $"“{Short(constant)}” is no date with time"
            ),
            _ => null,
        };

    private static Outcome<StepRun> Translate(StepArguments a)
    {
        var name = a.Text("table");
        if (!a.Crosswalks.TryGetValue(name, out var table))
            return new Reason("step", $"there is no crosswalk “{name}”");
        var walk = new CrosswalkTable(table);
        return new StepRun(
            (value, _) =>
            {
                if (value.List is not { } list)
                    return One(value.Text!);
                var (found, why) = (new List<string>(list.Count), (string?)null);
                foreach (var code in list)
                {
                    var one = One(code);
                    if (one.Failure is not null)
                        return one;
                    if (one.Value.Text is { } text && !found.Contains(text))
                        found.Add(text);
                    why ??= one.Why;
                }

                return new StepResult(new MapValue(null, found), Why: why);
            }
        );

        StepResult One(string code)
        {
            if (walk.Find(code) is { } entry)
                return new StepResult(
                    new MapValue(entry.To),
                    Why: entry.From == code ? $"crosswalk {name}" : $"crosswalk {name}: the entry for “{entry.From}”"
                );
            return table.Unlisted switch
            {
                Unlisted.Keep => new StepResult(new MapValue(code), Why: $"crosswalk {name} has no entry for it, so it is kept"),
                Unlisted.Default => new StepResult(
                    new MapValue(table.Default),
                    Why: $"crosswalk {name} has no entry for “{Short(code)}”: its default"
                ),
                _ => StepResult.Fail(
                    new Reason(
                        MapReasons.NoEntry,
                        $"the crosswalk “{name}” has no entry for “{Short(code)}”",
                        new Dictionary<string, string> { ["table"] = name, ["from"] = code }
                    )
                ),
            };
        }
    }

    private static Outcome<StepRun> Compute(StepArguments a)
    {
        var text = a.Text("formula");
        if (text.Length > LongestExpression)
            return new Reason("step", $"the expression has {text.Length} characters; at most {LongestExpression} are taken");
        const ExpressionOptions Options =
            ExpressionOptions.DecimalAsDefault
            | ExpressionOptions.NoCache
            | ExpressionOptions.RoundAwayFromZero
            | ExpressionOptions.IgnoreCaseAtBuiltInFunctions;
        List<string> names = [];
        try
        {
            var expression = new Expression(text, Options, Bounded(), CultureInfo.InvariantCulture);
            names = expression.GetParameterNames();
            foreach (var name in names.Where(n => n != "value"))
                if (a.Fields(name) is null)
                    return new Reason("step", $"the expression names “{name}”, and there is no such field");
            // A dry run finds functions that do not exist; a division by zero depends on the values and is no fault of the expression.
            foreach (var name in names)
                expression.Parameters[name] = (name == "value" ? a.In : a.Fields(name)!.Value) switch
                {
                    Shape.Number => 1m,
                    Shape.Truth => true,
                    _ => "1",
                };
            _ = expression.Evaluate();
        }
        catch (NCalcFunctionNotFoundException error)
        {
            return new Reason("step", $"the expression uses a function that does not exist: {error.Message.Split(':')[^1].Trim()}");
        }
        catch (NCalcException error)
        {
            return new Reason(
                "step",
                $"the expression cannot be read: "
                    + $"{error.Message.TrimEnd('.')}{(error.InnerException is { } inner ? $" ({inner.Message.TrimEnd('.')})" : "")}"
            );
        }
        catch (Exception error)
            when (error
                    is DivideByZeroException
                        or OverflowException
                        or FormatException
                        or InvalidCastException
                        or ArgumentException
                        or InvalidOperationException
            )
        {
            // With the values of a record it may well be computed.
        }

        var shapes = names.ToDictionary(n => n, n => n == "value" ? a.In : a.Fields(n) ?? Shape.Text, StringComparer.Ordinal);
        var gives = a.Text("gives");
        // An expression holds its parameters, so each thread has one of its own.
        var expressions = new ThreadLocal<Expression>(() => new Expression(text, Options, Bounded(), CultureInfo.InvariantCulture));
        return new StepRun(
            (value, record) =>
            {
                var expression = expressions.Value!;
                foreach (var (name, shape) in shapes)
                    expression.Parameters[name] = Argument(shape, name == "value" ? value.Canonical : record.Own.GetValueOrDefault(name));
                try
                {
                    return Result(expression.Evaluate(), gives);
                }
                catch (DivideByZeroException)
                {
                    return StepResult.Fail($"the expression divides by zero with {Given(record, value)}");
                }
                catch (Exception error)
                    when (error
                            is NCalcException
                                or OverflowException
                                or FormatException
                                or InvalidCastException
                                or ArgumentException
                                or InvalidOperationException
                    )
                {
                    return StepResult.Fail($"the expression cannot be computed with {Given(record, value)}: {error.Message.TrimEnd('.')}");
                }
            }
        );

        string Given(MapRecord record, MapValue value) =>
            shapes.Count == 0
                ? "these values"
                : string.Join(
                    ", ",
                    shapes.Keys.Select(n =>
                        $"{n} = {Short((n == "value" ? value.Canonical : record.Own.GetValueOrDefault(n)) ?? "nothing")}"
                    )
                );
    }

    // Powers are reckoned in floating point, whose largest is soon reached: exact ones of powers would go on for ever.
    private static ExpressionContext Bounded()
    {
        var context = new ExpressionContext();
        context.Functions["Pow"] = of =>
            of.Count == 2 ? Power(of.Evaluate(0), of.Evaluate(1)) : throw new NCalcEvaluationException("Pow takes two numbers");
        context.EvaluateBinaryHandler = of =>
        {
            if (of.BinaryExpression.Type == BinaryExpressionType.Exponentiation)
                of.Result = Power(of.LeftValue(), of.RightValue());
        };
        return context;
    }

    private static decimal Power(object? number, object? exponent) =>
        Convert.ToDecimal(
            Math.Pow(Convert.ToDouble(number, CultureInfo.InvariantCulture), Convert.ToDouble(exponent, CultureInfo.InvariantCulture)),
            CultureInfo.InvariantCulture
        );

    private static object Argument(Shape shape, string? stored) =>
        shape switch
        {
            Shape.Number => stored is null ? 0m : decimal.Parse(stored, CultureInfo.InvariantCulture),
            Shape.Truth => stored == "true",
            _ => stored ?? "",
        };

    private static StepResult Result(object? result, string gives)
    {
        if (result is string { Length: > LongestResult } lengthy)
            return StepResult.Fail($"the expression gives a text of {lengthy.Length:N0} characters; at most {LongestResult:N0} are taken");
        switch (gives)
        {
            case "text":
                return result switch
                {
                    null => MapValue.Missing,
                    bool b => b ? "true" : "false",
                    IFormattable f when result is not string => result is decimal or double or int or long
                        ? Numbers.Plain(Convert.ToDecimal(result, CultureInfo.InvariantCulture))
                        : f.ToString(null, CultureInfo.InvariantCulture),
                    _ => result.ToString(),
                };
            case "truth":
                return result is bool truth
                    ? truth
                        ? "true"
                        : "false"
                    : StepResult.Fail($"the expression gives {result ?? "nothing"}, which is neither true nor false");
            default:
                if (result is null or bool)
                    return StepResult.Fail(
                        $"the expression gives {result?.ToString()?.ToLowerInvariant() ?? "nothing"}, which is no number"
                    );
                if (result is string text)
                    return decimal.TryParse(
                        text,
                        NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                        CultureInfo.InvariantCulture,
                        out var number
                    )
                        ? Numbers.Plain(number)
                        : StepResult.Fail($"the expression gives “{Short(text)}”, which is no number");
                if (result is double d && !double.IsFinite(d))
                    return StepResult.Fail("the expression divides by zero");
                return Numbers.Plain(decimal.Round(Convert.ToDecimal(result, CultureInfo.InvariantCulture), 12));
        }
    }
}
