using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Mapping;

/// <summary>Small maps between two made-up systems.</summary>
internal static class Maps
{
    public static MapStep Step(string name, params (string Name, string Value)[] with) =>
        new(name, with.ToDictionary(w => w.Name, w => w.Value));

    public static MapRecord Record(string? value) =>
        new(new Dictionary<string, string>(value is null ? [] : [new("a", value)]) { ["zero"] = "0", ["b"] = "second" });

    public static MapSides Sides(FieldType source, FieldType target, int? maxLength = null, bool required = false) =>
        new(
            new FieldSet([
                new("a", "A", source, Writable: true),
                new("b", "B", FieldType.Text),
                new("c", "C", FieldType.Text),
                new("zero", "Zero", FieldType.Decimal),
            ]),
            new FieldSet([
                new("t", "Title there", target, Writable: true, Required: required) { MaxLength = maxLength },
                new("fixed", "Fixed", FieldType.Text),
            ]),
            new FieldSet([new("onHand", "On hand", FieldType.Integer)])
        );

    public static Chain Chain(FieldType source, FieldType target, params MapStep[] steps)
    {
        var faults = new List<RuleFault>();
        var chain = Core.Mapping.Chain.Make(
            new FieldMapping
            {
                Target = "t",
                Source = new MapSource(["a"]),
                Steps = steps,
            },
            "fields[0]",
            Sides(source, target),
            new Dictionary<string, Crosswalk>(),
            faults
        );
        faults.ShouldBeEmpty();
        return chain!;
    }

    public static ChainResult Run(FieldType source, FieldType target, string? value, params MapStep[] steps) =>
        Chain(source, target, steps).Run(Record(value));

    public static string Faults(FieldType source, FieldType target, params MapStep[] steps)
    {
        var faults = new List<RuleFault>();
        Core.Mapping.Chain.Make(
                new FieldMapping
                {
                    Target = "t",
                    Source = new MapSource(["a"]),
                    Steps = steps,
                },
                "fields[0]",
                Sides(source, target),
                new Dictionary<string, Crosswalk>(),
                faults
            )
            .ShouldBeNull();
        return string.Join("; ", faults.Select(f => f.Message));
    }

    public static ReadyMap Ready(FieldMap map, MapSides sides)
    {
        var ready = ReadyMap.Make(map, sides, out var faults);
        faults.Where(f => f.Severity == Severity.Refuse).ShouldBeEmpty();
        return ready!;
    }
}
