using Narbit.Core.Pairing;

namespace Narbit.Core.Tests.Pairing;

/// <summary>Titles through pairing's own door: two records with nothing but a title, among others that are not meant.</summary>
public sealed class TitleTests
{
    private static readonly string[] Others =
    [
        "Rutile 250 g",
        "Kiln wash 1 kg",
        "Porcelain slip, 5 l",
        "Sponge on a stick",
        "Banding wheel 30 cm",
        "Crackle glaze 2 l",
        "Wooden knife",
        "Apron, canvas",
    ];

    [Theory]
    [InlineData("Moss glaze 1 l", "Moss glaze 1000 ml")]
    [InlineData("Moss glaze 0.5 l", "MOSS GLAZE 50 cl")]
    [InlineData("Stoneware clay 12,5 kg", "Stoneware clay 12500 g")]
    [InlineData("Kiln shelf 40 × 40 cm", "Kiln shelf 400 x 400 mm")]
    [InlineData("Callipers 10 in", "Callipers 25.4 cm")]
    [InlineData("Callipers 10\"", "callipers 10 inch")]
    [InlineData("Stoneware clay 1,000 g", "Stoneware clay 1 kg")]
    [InlineData("Glaze tongs, 3 pc", "Glaze tongs 3 pieces")]
    [InlineData("Crème slip, fine", "creme slip fine")]
    [InlineData("Potter’s needle", "potters needle")]
    [InlineData("Underglaze pencil, blk", "Underglaze pencil black")]
    [InlineData("Brush on glaze, storm", "Brushon glaze storm")]
    [InlineData("Trimming tools", "Trimming tool")]
    public void These_say_the_same(string here, string there) =>
        Pair(here, there).ShouldSatisfyAllConditions(f => f.RightKey.ShouldBe("a"), f => f.Verdict.ShouldBe(Verdict.Likely));

    [Theory]
    [InlineData("Moss glaze 1 l", "Moss glaze 1.5 l")]
    [InlineData("Moss glaze 500 ml", "Moss glaze 500 g", true)]
    [InlineData("Callipers 10 in", "Callipers 10 cm")]
    [InlineData("Throwing bat 25 cm", "Throwing bat 35 cm")]
    [InlineData("Glaze sieve, 80 mesh", "Glaze sieve, 120 mesh")]
    [InlineData("Trimming tool set, 8 pc", "Trimming tool set, 6 pc")]
    [InlineData("Apron, large", "Apron, small")]
    [InlineData("Slip, red", "Slip, blue")]
    [InlineData("Moss glaze 1 l", "Kelp glaze 1 l", true)]
    [InlineData("Loop tool, round", "Loop tool, square", true)]
    public void These_are_two_things(string here, string there, bool open = false)
    {
        var found = Pair(here, there);
        found.RightKey.ShouldBeNull();
        // Where no number or colour decides, a person is asked instead.
        if (!open)
            found.Candidates.ShouldNotContain(c => c.Key == "a");
    }

    [Theory]
    [InlineData("white clay", "white clay with black flecks")]
    [InlineData("Set of 2 ribs, 500 ml", "Set of 2 ribs")]
    public void More_on_one_side_does_not_contradict(string here, string there) =>
        Pair(here, there)
            .Candidates.Concat(Pair(here, there).RightKey is null ? [] : [new Candidate("a", 1, [])])
            .ShouldContain(c => c.Key == "a");

    [Fact]
    public void The_option_counts_once_whether_the_title_repeats_it_or_not()
    {
        ItemToPair here = new()
        {
            Key = "1",
            Title = "Moss glaze 500 ml",
            Option = "500 ml",
        };
        ItemToPair there = new()
        {
            Key = "a",
            Title = "Moss glaze",
            Option = "500ml",
        };
        ItemPairing
            .Pair([here, .. Rest("L")], [there, .. Rest("R")], new SideNames("Hub", "Shop"))
            .First(f => f.LeftKey == "1")
            .Evidence.ShouldContain(e => e.Words == "titles say the same");
    }

    [Fact]
    public void Prices_and_brands_only_support()
    {
        ItemToPair here = new()
        {
            Key = "1",
            Title = "Moss glaze",
            Brand = "Kilnyard",
            Price = 10,
        };
        ItemToPair[] there =
        [
            new()
            {
                Key = "a",
                Title = "Moss glaze",
                Brand = "Harbour",
                Price = 10,
            },
            new()
            {
                Key = "b",
                Title = "Moss glaze",
                Brand = "Kilnyard",
                Price = 12,
            },
        ];
        var found = ItemPairing
            .Pair([here, .. Rest("L")], [.. there, .. Rest("R")], new SideNames("Hub", "Shop"))
            .First(f => f.LeftKey == "1");
        found.RightKey.ShouldBe("b");
        found.Evidence.Select(e => e.Words).ShouldContain("brand Kilnyard on both sides");
        ItemPairing
            .Pair([here with { Title = null }], [there[1] with { Title = null }], new SideNames("Hub", "Shop"))[0]
            .RightKey.ShouldBeNull();
    }

    private static PairFinding Pair(string here, string there) =>
        ItemPairing
            .Pair(
                [new() { Key = "1", Title = here }, .. Rest("L")],
                [new() { Key = "a", Title = there }, .. Rest("R")],
                new SideNames("Hub", "Shop")
            )
            .First(f => f.LeftKey == "1");

    private static IEnumerable<ItemToPair> Rest(string side) => Others.Select((t, i) => new ItemToPair { Key = $"{side}{i}", Title = t });
}
