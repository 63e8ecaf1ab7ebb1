using System.Globalization;

namespace Narbit.Core.Mapping.Steps;

/// <summary>
/// Steps between text and dates. Formats are .NET's custom date formats, read without regard to any locale; zones are IANA names.
/// </summary>
internal static class DateSteps
{
    private const string Stored = "yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'";

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "date",
            Label = "read a date",
            Group = "Dates",
            Takes = Shape.Text,
            Gives = Shape.Day,
            Parameters = [new StepParameter("format", "written like", ParameterKind.Text, Default: "yyyy-MM-dd")],
            Make = a =>
            {
                var format = a.Text("format");
                return FormatFault(format) is { } fault
                    ? fault
                    : new StepRun(
                        (value, _) =>
                            DateOnly.TryParseExact(
                                value.Text!.Trim(),
                                format,
                                CultureInfo.InvariantCulture,
                                DateTimeStyles.None,
                                out var day
                            )
                                ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                                : StepResult.Fail($"“{value.Text}” is no date written like {format}")
                    );
            },
        },
        new()
        {
            Do = "instant",
            Label = "read a date with time",
            Group = "Dates",
            Takes = Shape.Text | Shape.Day,
            Gives = Shape.Instant,
            Parameters =
            [
                new StepParameter("format", "written like", ParameterKind.Text, Default: "yyyy-MM-dd HH:mm"),
                new StepParameter("zone", "in", ParameterKind.Zone, Default: "UTC"),
            ],
            Make = a =>
            {
                if (Zone(a.Text("zone")) is not { } zone)
                    return new Reason("step", $"the time zone “{a.Text("zone")}” is not known; write it like Europe/Dublin");
                var format = a.In == Shape.Day ? "yyyy-MM-dd" : a.Text("format");
                return FormatFault(format) is { } fault
                    ? fault
                    : new StepRun(
                        (value, _) =>
                        {
                            if (
                                !DateTime.TryParseExact(
                                    value.Text!.Trim(),
                                    format,
                                    CultureInfo.InvariantCulture,
                                    DateTimeStyles.None,
                                    out var local
                                )
                            )
                                return StepResult.Fail($"“{value.Text}” is no date with time written like {format}");
                            local = DateTime.SpecifyKind(local, DateTimeKind.Unspecified);
                            if (zone.IsInvalidTime(local))
                                return StepResult.Fail($"“{value.Text}” does not exist in {zone.Id}: the clocks are put forward over it");
                            return TimeZoneInfo.ConvertTimeToUtc(local, zone).ToString(Stored, CultureInfo.InvariantCulture);
                        }
                    );
            },
        },
        new()
        {
            Do = "dateText",
            Label = "write a date as text",
            Group = "Dates",
            Takes = Shape.Instant | Shape.Day,
            Gives = Shape.Text,
            Parameters =
            [
                new StepParameter("format", "like", ParameterKind.Text, Default: "yyyy-MM-dd"),
                new StepParameter("zone", "in", ParameterKind.Zone, Default: "UTC"),
            ],
            Make = a =>
            {
                if (Zone(a.Text("zone")) is not { } zone)
                    return new Reason("step", $"the time zone “{a.Text("zone")}” is not known; write it like Europe/Dublin");
                var format = a.Text("format");
                return FormatFault(format) is { } fault
                    ? fault
                    : new StepRun(
                        (value, _) =>
                        {
                            var at = DateTimeOffset.Parse(value.Text!, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);
                            return (a.In == Shape.Day ? at : TimeZoneInfo.ConvertTime(at, zone)).ToString(
                                format,
                                CultureInfo.InvariantCulture
                            );
                        }
                    );
            },
        },
    ];

    public static TimeZoneInfo? Zone(string id) => TimeZoneInfo.TryFindSystemTimeZoneById(id, out var zone) ? zone : null;

    private static Reason? FormatFault(string format)
    {
        try
        {
            _ = DateTime.UnixEpoch.ToString(format, CultureInfo.InvariantCulture);
            return format.Length > 1 ? null : new Reason("step", "the format needs at least two letters, like yyyy-MM-dd");
        }
        catch (FormatException)
        {
            return new Reason("step", $"“{format}” is no date format; write it like yyyy-MM-dd HH:mm");
        }
    }
}
