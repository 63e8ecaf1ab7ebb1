using System.Globalization;

namespace Narbit.Core.Mapping.Steps;

/// <summary>Steps that make, take apart and order lists, and walk trees of categories.</summary>
internal static class ListSteps
{
    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "split",
            Label = "split into a list",
            Group = "Lists",
            Takes = Shape.Text,
            Gives = Shape.List,
            Parameters = [new StepParameter("at", "at", ParameterKind.Text, Required: true)],
            Make = a =>
            {
                var at = a.Text("at").Replace("\\n", "\n", StringComparison.Ordinal);
                return new StepRun(
                    (value, _) => List(value.Text!.Split(at, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
                );
            },
        },
        new()
        {
            Do = "join",
            Label = "join a list into text",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.Text,
            Parameters = [new StepParameter("with", "with", ParameterKind.Text, Default: " ")],
            Make = a =>
            {
                var with = a.Text("with").Replace("\\n", "\n", StringComparison.Ordinal);
                return new StepRun((value, _) => string.Join(with, value.List!));
            },
        },
        new()
        {
            Do = "first",
            Label = "the first that is not empty",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.Text,
            Make = _ => new StepRun((value, _) => value.List!.FirstOrDefault(v => !string.IsNullOrWhiteSpace(v))),
        },
        new()
        {
            Do = "pick",
            Label = "pick one of a list",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.Text,
            Missing = "stays missing, and so does a place that the list does not have",
            Parameters = [new StepParameter("which", "which (1 is the first, -1 the last)", ParameterKind.Whole, Required: true)],
            Make = a =>
            {
                var which = a.Whole("which");
                return which == 0
                    ? new Reason("step", "1 is the first and -1 the last; there is no 0")
                    : new StepRun(
                        (value, _) =>
                        {
                            var at = which > 0 ? which - 1 : value.List!.Count + which;
                            return at >= 0 && at < value.List!.Count
                                ? value.List[at]
                                : new StepResult(MapValue.Missing, Why: $"the list has {value.List!.Count}");
                        }
                    );
            },
        },
        new()
        {
            Do = "take",
            Label = "keep the first of a list",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.List,
            Parameters = [new StepParameter("count", "how many", ParameterKind.Whole, Required: true)],
            Make = a =>
            {
                var count = a.Whole("count");
                return count < 1
                    ? new Reason("step", "at least 1 must be kept")
                    : new StepRun((value, _) => List([.. value.List!.Take(count)]));
            },
        },
        new()
        {
            Do = "distinct",
            Label = "drop what stands twice",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.List,
            Make = _ => new StepRun((value, _) => List([.. value.List!.Distinct(StringComparer.OrdinalIgnoreCase)])),
        },
        new()
        {
            Do = "sum",
            Label = "add a list up",
            Group = "Lists",
            Takes = Shape.List,
            Gives = Shape.Number,
            Make = _ => new StepRun(
                (value, _) =>
                {
                    var sum = 0m;
                    foreach (var text in value.List!)
                    {
                        if (
                            !decimal.TryParse(
                                text,
                                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                                CultureInfo.InvariantCulture,
                                out var number
                            )
                        )
                            return StepResult.Fail($"“{text}” is no number");
                        sum += number;
                    }

                    return Numbers.Plain(sum);
                }
            ),
        },
        new()
        {
            Do = "branch",
            Label = "keep the top of a category",
            Group = "Trees",
            Takes = Shape.Text,
            Gives = Shape.Text,
            Parameters =
            [
                new StepParameter("levels", "levels", ParameterKind.Whole, Required: true),
                new StepParameter("separator", "parted by", ParameterKind.Text, Default: "›"),
            ],
            Make = a =>
            {
                var (levels, separator) = (a.Whole("levels"), a.Text("separator"));
                return levels < 1
                    ? new Reason("step", "at least one level must be kept")
                    : new StepRun((value, _) => string.Join($" {separator} ", Levels(value.Text!, separator).Take(levels)));
            },
        },
        new()
        {
            Do = "leaf",
            Label = "the end of a category",
            Group = "Trees",
            Takes = Shape.Text,
            Gives = Shape.Text,
            Parameters = [new StepParameter("separator", "parted by", ParameterKind.Text, Default: "›")],
            Make = a =>
            {
                var separator = a.Text("separator");
                return new StepRun((value, _) => Levels(value.Text!, separator).LastOrDefault());
            },
        },
        new()
        {
            Do = "images",
            Label = "addresses of images",
            Group = "Lists",
            Takes = Shape.List | Shape.Text,
            Shaped = a => a.In,
            Parameters = [new StepParameter("base", "put before relative ones", ParameterKind.Text)],
            Make = a =>
            {
                var start = a.Find("base");
                if (!string.IsNullOrEmpty(start) && ImageAddress.Fault(start.TrimEnd('/') + "/x.jpg") is { } fault)
                    return new Reason("step", fault);
                return new StepRun(
                    (value, _) =>
                    {
                        if (value.List is not { } list)
                            return ImageAddress.Fault(Whole(value.Text!)) is { } wrong ? StepResult.Fail(wrong) : Whole(value.Text!);
                        var whole = list.Select(Whole).Distinct(StringComparer.Ordinal).ToList();
                        return whole.Select(ImageAddress.Fault).FirstOrDefault(f => f is not null) is { } first
                            ? StepResult.Fail(first)
                            : List(whole);
                    }
                );

                string Whole(string address) =>
                    address.Contains("://", StringComparison.Ordinal) || string.IsNullOrEmpty(start)
                        ? address.Trim()
                        : $"{start.TrimEnd('/')}/{address.Trim().TrimStart('/')}";
            },
        },
    ];

    private static StepResult List(IReadOnlyList<string> list) => new(new MapValue(null, list));

    private static string[] Levels(string path, string separator) =>
        path.Split(separator, StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
}
