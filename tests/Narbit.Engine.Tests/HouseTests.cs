using System.Reflection;
using Narbit.Core;
using Narbit.Data;
using Narbit.Engine.Lanes;
using Narbit.House;

namespace Narbit.Engine.Tests;

/// <summary>How the house stands: which folder may know which, read from the assemblies as they were compiled.</summary>
public sealed class HouseTests
{
    // What lists all that there are knows them all, and is known by those who ask for one.
    private static readonly string[] Lists = ["LaneWorks", "StepCatalogue", "NarbitContext"];

    private static readonly string[] Kinds = ["Items", "Prices", "Stock", "Orders", "Customers", "Corrections"];

    // Each may know those before it.
    private static readonly string[] Order =
    [
        "Systems",
        "Reading",
        "Pairing",
        "Lanes",
        "Lanes.Maps",
        .. Kinds.Select(k => $"Lanes.{k}"),
        "Runs",
        "Jobs",
        "Mismatches.WaysOut",
        "Mismatches",
        .. Kinds.Select(k => $"Mismatches.{k}"),
        "Proofs",
        "Workspaces",
        "Workspaces.Files",
    ];

    public static TheoryData<Assembly> Assemblies => [typeof(Amount).Assembly, typeof(Database).Assembly, typeof(LaneWork).Assembly];

    [Theory]
    [MemberData(nameof(Assemblies))]
    public void No_folder_knows_one_that_knows_it(Assembly assembly)
    {
        var folders = Between(assembly).GroupBy(r => r.From.Namespace!, r => r.To.Namespace!).ToDictionary(g => g.Key, g => g.ToHashSet());
        folders.Count.ShouldBeGreaterThan(5);
        folders.Keys.Where(f => Known(f).Contains(f)).ShouldBeEmpty();

        HashSet<string> Known(string folder)
        {
            var known = new HashSet<string>();
            var open = new Queue<string>(folders.GetValueOrDefault(folder, []));
            while (open.TryDequeue(out var one))
                if (known.Add(one))
                    foreach (var next in folders.GetValueOrDefault(one, []))
                        open.Enqueue(next);
            return known;
        }
    }

    [Fact]
    public void The_engine_has_one_direction()
    {
        var known = Between(typeof(LaneWork).Assembly).Where(r => Place(r.From) >= 0 && Place(r.To) >= 0).ToList();
        known.Count.ShouldBeGreaterThan(100);
        known.Where(r => Place(r.To) > Place(r.From)).Select(Words).ShouldBeEmpty();
    }

    [Fact]
    public void Who_is_of_no_kind_of_lane_knows_none()
    {
        var known = References.Of(typeof(LaneWork).Assembly).Where(r => !IsList(r.From) && IsOfKind(r.To)).ToList();
        known.Count.ShouldBeGreaterThan(50);
        known.Where(r => !IsOfKind(r.From)).Select(Words).ShouldBeEmpty();
    }

    private static IEnumerable<(Type From, Type To)> Between(Assembly assembly) =>
        References.Of(assembly).Where(r => r.To.Assembly == assembly && r.From.Namespace != r.To.Namespace && !IsList(r.From));

    private static bool IsList(Type type) => Lists.Contains(type.Name) || type.Name.EndsWith("Services", StringComparison.Ordinal);

    private static bool IsOfKind(Type type) => Kinds.Any(k => Folder(type) == $"Lanes.{k}" || Folder(type) == $"Mismatches.{k}");

    private static int Place(Type type) => Array.IndexOf(Order, Folder(type));

    private static string Folder(Type type) => type.Namespace!.Replace("Narbit.Engine.", "", StringComparison.Ordinal);

    private static string Words((Type From, Type To) reference) =>
        $"{Folder(reference.From)}.{reference.From.Name} knows {Folder(reference.To)}.{reference.To.Name}";
}
