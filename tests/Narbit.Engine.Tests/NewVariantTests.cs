using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Pricing;
using Narbit.Core.Records;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Lanes.Prices;

namespace Narbit.Engine.Tests;

/// <summary>What a computation makes of one pair, without any system.</summary>
public sealed class NewVariantTests
{
    private static readonly FieldSet Here = new([
        new("sku", "SKU", FieldType.Text, FieldRole.Sku, Writable: true),
        new("name", "Name", FieldType.Text, FieldRole.Title, Required: true, Writable: true),
        new("option", "Option", FieldType.Text, FieldRole.Option, Writable: true),
        new("tax", "Tax code", FieldType.Code, FieldRole.TaxCode, Writable: true),
        new("rate", "Tax rate", FieldType.Percent, FieldRole.TaxRate, Required: true),
        new("colour", "Colour", FieldType.Text, Writable: true),
    ]);

    private static readonly OfferedKind There = new(
        RecordKind.Item,
        "variants",
        new FieldSet([
            new("code", "Code", FieldType.Text, FieldRole.Sku, Writable: true),
            new("size", "Size", FieldType.Text, FieldRole.Option, Writable: true),
            new("taxClass", "Tax class", FieldType.Code, FieldRole.TaxCode, Writable: true),
        ]),
        10
    )
    {
        Creates = true,
    };

    private static readonly Dictionary<string, string> Sister = new()
    {
        ["sku"] = "GLZ-1",
        ["name"] = "Celadon glaze 250 ml",
        ["option"] = "250 ml",
        ["tax"] = "S",
        ["colour"] = "green",
    };

    private static LaneSides Sides(FieldSet source, FieldSet target) =>
        new()
        {
            SourceName = "Hub",
            TargetName = "Store",
            Source = source,
            Target = target,
        };

    private static Computed Compute(
        Dictionary<string, string> there,
        IReadOnlyDictionary<string, string>? sister,
        bool creates = true,
        NewThere way = NewThere.Follow,
        string? taken = null
    )
    {
        var map = new FieldMap
        {
            Fields =
            [
                new FieldMapping
                {
                    Target = "code",
                    Source = new MapSource(["sku"]),
                    Steps = [new MapStep("surround", new Dictionary<string, string> { ["before"] = "LM." })],
                },
                new FieldMapping { Target = "size", Source = new MapSource(["option"]) },
                new FieldMapping
                {
                    Target = "taxClass",
                    Source = new MapSource(["tax"]),
                    Steps = [new MapStep("crosswalk", new Dictionary<string, string> { ["table"] = "Tax" })],
                },
            ],
            Crosswalks =
            [
                new Crosswalk
                {
                    Name = "Tax",
                    Entries = [new CrosswalkEntry("S", "A"), new CrosswalkEntry("Z", "A"), new CrosswalkEntry("R", "B")],
                },
            ],
            Publish = new PublishRule { NewThere = way },
        };
        var ready = ReadyMap.Make(map, new MapSides(Here, There.Fields), out var faults)!;
        faults.Where(f => f.Severity == Severity.Refuse).ShouldBeEmpty();
        var record = new MapRecord(new Dictionary<string, string>(), sister, there, ParentKey: "10001");
        return new ItemComputation(ready, Sides(Here, There.Fields) with { Creates = true, CreatesHere = creates }).Compute(
            new PlacedItem(SideRecord.None, new SideRecord("77", there, []), null, null)
            {
                Place = new ItemPlace(record, Presence.OnlyThere) { Group = "G1", WithSku = _ => taken },
            }
        );
    }

    [Fact]
    public void It_takes_what_flows_back_and_for_the_rest_what_its_sister_has()
    {
        var computed = Compute(
            new()
            {
                ["code"] = "LM.GLZ-2",
                ["size"] = "1 l",
                ["taxClass"] = "A",
            },
            Sister
        );
        computed.Act.ShouldBe(WriteAct.Create);
        computed.Fields.ShouldAllBe(f => f.Way == Way.Back);
        // S and Z both become A, so that the way back is not known and the sister's code is taken; what is its own, such as a colour, is
        // not.
        computed
            .Fields.ToDictionary(f => f.Field.Name, f => f.New)
            .ShouldBe(
                new Dictionary<string, string?>
                {
                    ["name"] = "Celadon glaze 1 l",
                    ["sku"] = "GLZ-2",
                    ["option"] = "1 l",
                    ["tax"] = "S",
                },
                ignoreOrder: true
            );
        computed.Fields.First(f => f.Field.Name == "sku").Trace.Select(t => t.Step).ShouldBe(["target", "back"]);
        computed.Fields.First(f => f.Field.Name == "tax").Trace.Single().Why.ShouldBe("as its sister 10001 has it");
    }

    [Fact]
    public void It_waits_or_says_what_is_in_the_way()
    {
        Dictionary<string, string> there = new() { ["code"] = "LM.GLZ-2", ["size"] = "1 l" };
        Compute(there, Sister, way: NewThere.Wait).IsOutOfScope.ShouldBeTrue();
        Compute(there, Sister, creates: false).Why!.Code.ShouldBe("cannotCreate");
        Compute(there, null)
            .ShouldSatisfyAllConditions(
                c => c.Why!.Code.ShouldBe("required"),
                c => c.Why!.Words.ShouldStartWith("Name is required at the source")
            );
        Compute(there, Sister, taken: "10009")
            .ShouldSatisfyAllConditions(
                c => c.Why!.Code.ShouldBe("skuHere"),
                c => c.Why!.Words.ShouldContain("10009 has the SKU GLZ-2 already")
            );
    }

    [Fact]
    public void The_guards_look_at_the_worst_of_a_groups_prices()
    {
        var source = new FieldSet([
            new("studio", "Studio", FieldType.Money, FieldRole.Price, "Studio"),
            new("school", "School", FieldType.Money, FieldRole.Price, "School"),
            new("cost", "Cost", FieldType.Money, FieldRole.Cost),
        ]);
        var target = new FieldSet([
            new("price", "Price", FieldType.Money, FieldRole.Price, Writable: true),
            new("schools", "For schools", FieldType.Money, FieldRole.Price, "schools", Writable: true),
        ]);
        var rule = new PriceRule { PriceList = "Studio", Groups = [new GroupPriceList("schools", "School")] };
        Computed Priced(string school, string there) =>
            new PriceComputation(rule, Sides(source, target), DateTimeOffset.UnixEpoch).Compute(
                new LanePair(
                    new SideRecord(
                        "1",
                        new Dictionary<string, string>
                        {
                            ["studio"] = "10",
                            ["school"] = school,
                            ["cost"] = "6",
                        },
                        []
                    ),
                    new SideRecord("t", new Dictionary<string, string> { ["price"] = "10", ["schools"] = there }, []),
                    "A",
                    "A"
                )
            );

        Priced("7", "10")
            .ShouldSatisfyAllConditions(
                c => c.Fields.Select(f => f.New).ShouldBe(["10", "7"]),
                c => (c.Guarded.OldPrice, c.Guarded.NewPrice, c.Guarded.NetPrice).ShouldBe((10m, 7m, 7m)),
                c => c.Hold.ShouldBeNull()
            );
        Priced("5", "5")
            .Guarded.ShouldSatisfyAllConditions(g => g.NetPrice.ShouldBe(5m, "below the cost of 6"), g => g.NewPrice.ShouldBe(10m));
        // A price that all but vanishes is held, and says whose it is.
        Priced("1", "10").Hold!.Words.ShouldStartWith("For schools: ");
    }
}
