using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

/// <summary>Whatever a chain meets, it answers with a value or a reason; it never throws.</summary>
public sealed class BearingTests
{
    [Theory]
    [InlineData("money", "79228162514264337593543950335")]
    [InlineData("money", "-0")]
    [InlineData("text", "")]
    [InlineData("text", " › › ")]
    [InlineData("text", "\0\uFFFD")]
    [InlineData("instant", "0001-01-01T00:00:00Z")]
    [InlineData("instant", "9999-12-31T23:59:59Z")]
    [InlineData("list", "[]")]
    [InlineData("list", "[\"\", \"a\"]")]
    public void Every_step_bears_every_value(string type, string value)
    {
        var fieldType = Enum.Parse<FieldType>(type, ignoreCase: true);
        FieldDescription field = new("given", "Given", fieldType);
        var source = new FieldSet([field, new FieldDescription("other", "Other", FieldType.Text)]);
        var tried = 0;
        foreach (var kind in StepCatalogue.Kinds)
        {
            var with = kind.Parameters.ToDictionary(p => p.Name, Sensible, StringComparer.Ordinal);
            var map = new FieldMap
            {
                Fields =
                [
                    new FieldMapping
                    {
                        Target = "out",
                        Source = new MapSource(["given"]),
                        Steps = [new MapStep(kind.Do, with)],
                    },
                ],
                Crosswalks =
                [
                    new Crosswalk
                    {
                        Name = "other",
                        Separator = "›",
                        Entries = [new CrosswalkEntry("a", "b")],
                    },
                ],
            };
            foreach (var outType in new[] { FieldType.Text, FieldType.Money, FieldType.List, FieldType.Instant })
            {
                var target = new FieldSet([new FieldDescription("out", "Out", outType) { Writable = true }]);
                if (ReadyMap.Make(map, new MapSides(source, target, null), out _) is not { } ready)
                    continue;
                var record = new MapRecord(new Dictionary<string, string> { ["given"] = value, ["other"] = "x" });
                Should.NotThrow(() => RecordMapping.Create(ready, record), $"{kind.Do} on {type} “{value}”");
                tried++;
            }
        }

        tried.ShouldBeGreaterThan(4);
    }

    private static string Sensible(StepParameter parameter) =>
        parameter.Kind switch
        {
            ParameterKind.Whole => "30000",
            ParameterKind.Number => "79228162514264337593543950335",
            ParameterKind.Choice => parameter.Default ?? parameter.Choices![0],
            ParameterKind.Locale => "de-DE",
            ParameterKind.Zone => "Europe/Dublin",
            ParameterKind.Pattern => "(.*)+",
            ParameterKind.Expression => "given * 79228162514264337593543950335",
            _ => parameter.Default ?? "other",
        };
}
