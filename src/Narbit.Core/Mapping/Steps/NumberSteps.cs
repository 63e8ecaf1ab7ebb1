using System.Globalization;

namespace Narbit.Core.Mapping.Steps;

/// <summary>Steps that read, compute with and write numbers. All arithmetic is decimal.</summary>
internal static class NumberSteps
{
    // Grams, millimetres and millilitres; pound and ounce by the international avoirdupois pound (0.45359237 kg), the inch by its
    // definition (25.4 mm).
    private static readonly Dictionary<string, (string Kind, decimal Size)> Units = new(StringComparer.Ordinal)
    {
        ["g"] = ("a weight", 1),
        ["kg"] = ("a weight", 1000),
        ["oz"] = ("a weight", 28.349523125m),
        ["lb"] = ("a weight", 453.59237m),
        ["mm"] = ("a length", 1),
        ["cm"] = ("a length", 10),
        ["in"] = ("a length", 25.4m),
        ["ml"] = ("a volume", 1),
        ["l"] = ("a volume", 1000),
    };

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "number",
            Label = "read a number",
            Group = "Numbers",
            Takes = Shape.Text,
            Gives = Shape.Number,
            Parameters = [new StepParameter("locale", "as written in", ParameterKind.Locale, Default: "en-IE")],
            Make = a =>
                Locale(a.Text("locale")) is { } culture
                    ? Reader(culture)
                    : new Reason("step", $"the locale “{a.Text("locale")}” is not known; write it like de-DE"),
        },
        Of(
            "scale",
            "multiply",
            a =>
            {
                var by = a.Number("by");
                return n => n * by;
            },
            null,
            new StepParameter("by", "by", ParameterKind.Number, Required: true)
        ),
        Of(
            "add",
            "add",
            a =>
            {
                var amount = a.Number("amount");
                return n => n + amount;
            },
            null,
            new StepParameter("amount", "amount", ParameterKind.Number, Required: true)
        ),
        Of(
            "round",
            "round",
            a =>
            {
                var (decimals, mode) = (
                    a.Whole("decimals"),
                    a.Text("halves") switch
                    {
                        "even" => MidpointRounding.ToEven,
                        "always up" => MidpointRounding.ToPositiveInfinity,
                        "always down" => MidpointRounding.ToNegativeInfinity,
                        _ => MidpointRounding.AwayFromZero,
                    }
                );
                return n => decimal.Round(n, decimals, mode);
            },
            a => a.Whole("decimals") is < 0 or > 10 ? "decimals must be from 0 to 10" : null,
            new StepParameter("decimals", "to decimals", ParameterKind.Whole, Default: "2"),
            new StepParameter("halves", "halves", ParameterKind.Choice, Default: "up", Choices: ["up", "even", "always up", "always down"])
        ),
        Of(
            "unit",
            "convert a unit",
            a =>
            {
                var (from, to) = (Units[a.Text("from")], Units[a.Text("to")]);
                return n => decimal.Round(n * from.Size / to.Size, 12) / 1.0m;
            },
            a =>
                Units[a.Text("from")].Kind == Units[a.Text("to")].Kind
                    ? null
                    : $"{a.Text("from")} is {Units[a.Text("from")].Kind} and {a.Text("to")} {Units[a.Text("to")].Kind}; one "
                        + $"cannot become the other",
            new StepParameter("from", "from", ParameterKind.Choice, Required: true, Choices: [.. Units.Keys]),
            new StepParameter("to", "to", ParameterKind.Choice, Required: true, Choices: [.. Units.Keys])
        ),
        new()
        {
            Do = "numberText",
            Label = "write a number as text",
            Group = "Numbers",
            Takes = Shape.Number,
            Gives = Shape.Text,
            Parameters =
            [
                new StepParameter("locale", "as written in", ParameterKind.Locale, Default: "en-IE"),
                new StepParameter("decimals", "decimals", ParameterKind.Whole, Default: "2"),
            ],
            Make = a =>
            {
                if (Locale(a.Text("locale")) is not { } culture)
                    return new Reason("step", $"the locale “{a.Text("locale")}” is not known; write it like de-DE");
                if (a.Whole("decimals") is < 0 or > 10)
                    return new Reason("step", "decimals must be from 0 to 10");
                var format = $"N{a.Whole("decimals")}";
                return new StepRun((value, _) => decimal.Parse(value.Text!, CultureInfo.InvariantCulture).ToString(format, culture));
            },
        },
    ];

    public static CultureInfo? Locale(string name)
    {
        try
        {
            return name.Length == 0 ? null : CultureInfo.GetCultureInfo(name, predefinedOnly: true);
        }
        catch (CultureNotFoundException)
        {
            return null;
        }
    }

    private static Outcome<StepRun> Reader(CultureInfo culture)
    {
        var format = culture.NumberFormat;
        // Some locales part thousands by a narrow space that no keyboard has; any space does.
        var spaced = char.IsWhiteSpace(format.NumberGroupSeparator[0]);
        return new StepRun(
            (value, _) =>
            {
                var text = value.Text!.Trim();
                var read = spaced ? string.Concat(text.Where(c => !char.IsWhiteSpace(c))) : text;
                return
                    decimal.TryParse(
                        read,
                        spaced
                            ? NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint
                            : NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands,
                        format,
                        out var number
                    ) && WellGrouped(read, format)
                    ? Numbers.Plain(number)
                    : StepResult.Fail($"“{text}” is no number as written in {culture.Name}");
            }
        );
    }

    // “1,5” read where the comma parts thousands would be 15: a group has three digits, or the text is refused.
    private static bool WellGrouped(string text, NumberFormatInfo format)
    {
        var whole = text.Split(format.NumberDecimalSeparator)[0].TrimStart('-', '+');
        var groups = whole.Split(format.NumberGroupSeparator);
        return groups.Length == 1 || (groups[0].Length is >= 1 and <= 3 && groups.Skip(1).All(g => g.Length == 3));
    }

    private static StepKind Of(
        string name,
        string label,
        Func<StepArguments, Func<decimal, decimal>> make,
        Func<StepArguments, string?>? check,
        params StepParameter[] parameters
    ) =>
        new()
        {
            Do = name,
            Label = label,
            Group = "Numbers",
            Takes = Shape.Number,
            Gives = Shape.Number,
            Parameters = parameters,
            Make = a =>
            {
                if (check?.Invoke(a) is { } fault)
                    return new Reason("step", fault);
                var act = make(a);
                return new StepRun(
                    (value, _) =>
                    {
                        try
                        {
                            return Numbers.Plain(act(decimal.Parse(value.Text!, CultureInfo.InvariantCulture)));
                        }
                        catch (OverflowException)
                        {
                            return StepResult.Fail($"{value.Text} is too large to compute with");
                        }
                    }
                );
            },
        };
}
