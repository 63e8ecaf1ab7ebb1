using CsCheck;
using Narbit.Core.Pairing;

namespace Narbit.Core.Tests.Pairing;

public sealed class ItemPairingTests
{
    private const string Code = "9528840100021";
    private const string OtherCode = "9528840100038";

    [Fact]
    public void The_same_SKU_is_certain()
    {
        var found = One(
            Item("1", "GLZ-CEL-500", "Celadon glaze, brush-on 500 ml"),
            Item("a", "GLZ-CEL-500", "Celadon glaze, brush-on", option: "500 ml")
        );
        found.ShouldSatisfyAllConditions(
            f => f.Verdict.ShouldBe(Verdict.Certain),
            f => f.RightKey.ShouldBe("a"),
            f => Words(f).ShouldContain("SKU GLZ-CEL-500 on both sides")
        );
    }

    [Theory]
    [InlineData("glz-cel-500")]
    [InlineData("GLZ CEL 500")]
    [InlineData("GLZCEL500")]
    [InlineData("00GLZ-CEL-500")]
    [InlineData("ＧＬＺ-CEL-500")]
    public void A_SKU_written_another_way_is_certain_where_the_titles_agree(string sku)
    {
        var found = One(Item("1", "GLZ-CEL-500", "Celadon glaze 500 ml"), Item("a", sku, "Celadon glaze 500 ml"));
        found.Verdict.ShouldBe(Verdict.Certain);
        Words(found).ShouldContain("the same but for case, spaces, separators or leading zeros");
    }

    [Fact]
    public void A_SKU_written_another_way_and_nothing_else_is_likely() =>
        One(Item("1", "GLZ-CEL-500", null), Item("a", "glzcel500", null)).Verdict.ShouldBe(Verdict.Likely);

    [Fact]
    public void The_same_barcode_counts_at_fourteen_digits() =>
        One(Item("1", null, "Celadon glaze 500 ml", barcode: Code), Item("a", "X-9", "Glaze, celadon (0.5 l)", barcode: "0" + Code))
            .Verdict.ShouldBe(Verdict.Certain);

    [Fact]
    public void A_barcode_with_a_wrong_check_digit_counts_for_nothing_and_is_said()
    {
        var found = One(
            Item("1", "A-1", "Celadon glaze 500 ml", barcode: Code[..12] + "9"),
            Item("a", "A-1", "Celadon glaze 500 ml", barcode: Code)
        );
        found.Verdict.ShouldBe(Verdict.Certain);
        Words(found).ShouldContain("has a wrong check digit: 9 where 1 is right, so it counts for nothing");
    }

    [Fact]
    public void The_same_SKU_with_another_barcode_is_not_certain()
    {
        var found = One(
            Item("1", "A-1", "Celadon glaze 500 ml", barcode: Code),
            Item("a", "A-1", "Celadon glaze 500 ml", barcode: OtherCode)
        );
        found.Verdict.ShouldNotBe(Verdict.Certain);
        Words(found).ShouldContain("same SKU, other barcode");
    }

    [Fact]
    public void The_same_SKU_with_an_unrelated_title_is_not_even_likely()
    {
        var found = One(Item("1", "A-1", "Celadon glaze 500 ml"), Item("a", "A-1", "Banding wheel 22 cm"));
        found.Verdict.ShouldBe(Verdict.Ambiguous);
        found
            .Candidates.ShouldHaveSingleItem()
            .Evidence.ShouldContain(e => e.Effect == EvidenceEffect.Against && e.Words.Contains("unrelated", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("Celadon glaze 500 ml", "Celadon glaze 1 l", "500 ml is not 1 l")]
    [InlineData("Slip, white 5 l", "Slip, black 5 l", "white is not black")]
    [InlineData("Apron size S", "Apron size XL", "size S is not XL")]
    [InlineData("Round brush no. 4", "Round brush no. 6", "4 is not 6")]
    [InlineData("Kiln shelf 30 × 30 cm", "Kiln shelf 30 × 40 cm", "30 cm is not 40 cm")]
    public void What_contradicts_forbids_a_pair_by_title(string here, string there, string words)
    {
        One(Item("1", null, here), Item("a", null, there))
            .ShouldSatisfyAllConditions(f => f.Verdict.ShouldBe(Verdict.None), f => f.RightKey.ShouldBeNull());
        // Where the SKU says otherwise, the contradiction is shown and keeps the pair from being certain.
        var found = One(Item("1", "A-1", here), Item("a", "A-1", there));
        found.Verdict.ShouldNotBe(Verdict.Certain);
        found
            .Evidence.Concat(found.Candidates.SelectMany(c => c.Evidence))
            .ShouldContain(e => e.Effect == EvidenceEffect.Forbids && e.Words == words);
    }

    [Theory]
    [InlineData("Celadon glaze, brush-on 500 ml", "Brush on Glaze — Celadon (0,5 l)")]
    [InlineData("Stoneware clay, grogged 12.5 kg", "12500g Stnwr clay grogged")]
    [InlineData("Banding wheel 22 cm", "bandign wheel 220 mm")]
    [InlineData("Trimming tool set, 8 pc", "Trim. tools set 8 pieces")]
    [InlineData("Texture roller, linen", "linen texture roler")]
    [InlineData("Stamp set, leaves", "leaves stamps et")]
    public void Titles_agree_in_any_order_and_spelling(string here, string there)
    {
        var others = new[] { "Rutile 250 g", "Kiln wash 1 kg", "Porcelain slip, 5 l", "Sponge on a stick" };
        var found = ItemPairing.Pair(
            [Item("1", null, here), .. others.Select((t, i) => Item($"L{i}", null, t))],
            [Item("a", null, there), .. others.Select((t, i) => Item($"R{i}", null, t))],
            new SideNames("Hub", "Shop")
        );
        found
            .First(f => f.LeftKey == "1")
            .ShouldSatisfyAllConditions(f => f.RightKey.ShouldBe("a"), f => f.Verdict.ShouldBe(Verdict.Likely));
    }

    [Fact]
    public void A_SKU_used_twice_is_never_certain_by_itself()
    {
        var found = Pair([Item("1", "A-1", null), Item("2", "A-1", null)], [Item("a", "A-1", null)]);
        found.ShouldAllBe(f => f.Verdict == Verdict.Ambiguous);
        Words(found[0]).ShouldContain("SKU A-1 is used 2 times in Hub: 1, 2");
    }

    [Fact]
    public void A_SKU_used_twice_stays_so_when_one_of_them_is_taken()
    {
        var found = Pair([Item("1", "A-1", null) with { Taken = true }, Item("2", "A-1", null)], [Item("a", "A-1", null)]);
        found.ShouldHaveSingleItem().ShouldSatisfyAllConditions(f => f.LeftKey.ShouldBe("2"), f => f.Verdict.ShouldBe(Verdict.Ambiguous));
    }

    [Fact]
    public void A_SKU_used_twice_is_told_apart_by_barcode_or_title()
    {
        var found = Pair(
            [Item("1", "A-1", "Celadon glaze 500 ml", barcode: Code), Item("2", "A-2", "Rutile 250 g")],
            [Item("a", "A-1", "Celadon glaze 500 ml", barcode: Code), Item("b", "A-1", "Rutile 250 g")]
        );
        found
            .First(f => f.LeftKey == "1")
            .ShouldSatisfyAllConditions(f => f.RightKey.ShouldBe("a"), f => f.Verdict.ShouldBe(Verdict.Certain));
        found
            .First(f => f.LeftKey == "2")
            .ShouldSatisfyAllConditions(f => f.RightKey.ShouldBe("b"), f => f.Verdict.ShouldBe(Verdict.Likely));
    }

    [Fact]
    public void Twins_that_nothing_tells_apart_are_ambiguous()
    {
        var found = Pair(
            [Item("1", null, "Celadon glaze 500 ml"), Item("2", null, "Celadon glaze 500 ml")],
            [Item("a", null, "Celadon glaze 500 ml"), Item("b", null, "Celadon glaze 500 ml")]
        );
        found.ShouldAllBe(f => f.Verdict == Verdict.Ambiguous && f.Candidates.Count == 2);
    }

    [Fact]
    public void Likely_pairs_are_assigned_over_the_whole_set_not_first_come_first_served()
    {
        // The first record fits the second best, but that one is all that the other can have.
        int[] given = Assignment.Best([new Edge(0, 0, 0.80), new Edge(0, 1, 0.85), new Edge(1, 1, 0.84)], 2, 2);
        given.ShouldBe([0, 1]);
    }

    [Fact]
    public void Sisters_speak_for_a_listing_under_the_same_parent()
    {
        var found = Pair(
            [
                Item("1", "C-5", "Celadon glaze 5 l", group: "C"),
                Item("2", null, "Celadon glaze 10 l", group: "C"),
                Item("3", null, "Celadon glaze 10 l", group: "D"),
            ],
            [Item("a", "C-5", "Celadon glaze 5 l", group: "x"), Item("b", null, "Celadon glaze 10 l", group: "x")]
        );
        found.First(f => f.LeftKey == "2").RightKey.ShouldBe("b");
        Words(found.First(f => f.LeftKey == "2")).ShouldContain("its sisters are under the same parent there");
    }

    [Fact]
    public void What_was_decided_for_another_system_counts()
    {
        var item = Item("1", null, "Celadon glaze 500 ml") with { KnownAs = [new KnownAs("Web Shop", "WS-77", null)] };
        var found = One(item, Item("a", "ws77", "Celadon glaze 500 ml"));
        found.Verdict.ShouldBe(Verdict.Certain);
        Words(found).ShouldContain("in Web Shop the same SKU WS-77 was paired with this item");
    }

    [Fact]
    public void A_habit_makes_certain_what_was_likely()
    {
        ItemToPair[] left = [Item("1", "GLZ-CEL", "Celadon glaze"), Item("2", "GLZ-MOS", "Moss glaze")];
        ItemToPair[] right = [Item("a", "LM.GLZ-CEL", "Glaze celadon"), Item("b", "LM.GLZ-MOS", "Glaze moss")];
        Pair(left, right).ShouldAllBe(f => f.Verdict == Verdict.Likely);
        var found = ItemPairing.Pair(left, right, new SideNames("Hub", "Portal"), new SkuHabit("LM.", ""));
        found.ShouldAllBe(f => f.Verdict == Verdict.Certain);
        Words(found[0]).ShouldContain("Portal writes LM. before a SKU");
    }

    [Fact]
    public void A_habit_is_learned_from_what_was_decided()
    {
        (string, string)[] pairs =
        [
            ("A-1", "LM.A-1"),
            ("A-2", "lm.a-2"),
            ("A-3", "LM.A-3"),
            ("A-4", "LM.A-4"),
            ("A-5", "A5"),
            ("B-6", "something"),
        ];
        var learned = SkuHabit.Learn(pairs)!.Value;
        learned.ShouldBe((new SkuHabit("LM.", ""), 4, 5));
        learned.Habit.Plain("LM.A-9").ShouldBe("A-9");
        learned.Habit.Plain("A-9").ShouldBeNull();
        SkuHabit.Learn(pairs[..3]).ShouldBeNull();
    }

    [Fact]
    public void A_title_that_was_cut_off_does_not_contradict_by_its_last_number() =>
        One(Item("1", "A-1", "Celadon glaze, brush-on 500 ml"), Item("a", "A-1", "CELADON GLAZE, BRUSH-ON 5") with { TitleCut = true })
            .Verdict.ShouldBe(Verdict.Certain);

    [Theory]
    [InlineData(4000, 11)]
    [InlineData(4000, 12)]
    public void A_generated_set_is_paired_as_well_as_asked(int count, int seed)
    {
        var set = PairSet.Make(count, seed);
        var (certain, found, likely) = set.Score(ItemPairing.Pair(set.Left, set.Right, new SideNames("left", "right")));
        certain.ShouldBeGreaterThanOrEqualTo(0.999);
        found.ShouldBeGreaterThanOrEqualTo(0.97);
        likely.ShouldBeGreaterThanOrEqualTo(0.97);
    }

    [Fact]
    public void Every_record_is_told_of_once_and_the_order_makes_no_difference()
    {
        var set = PairSet.Make(400, 5);
        string Told(IReadOnlyList<PairFinding> findings) =>
            string.Join('\n', findings.Select(f => $"{f.LeftKey} {f.RightKey} {f.Verdict} {f.Confidence}"));
        var found = Pair([.. set.Left], [.. set.Right]);
        Told(Pair([.. set.Left.Reverse()], [.. set.Right.Reverse()])).ShouldBe(Told(found));
        found.Where(f => f.LeftKey is not null).Select(f => f.LeftKey!).ShouldBe(set.Left.Select(r => r.Key), ignoreOrder: true);
        var rights = found.Where(f => f.RightKey is not null).Select(f => f.RightKey!).ToList();
        rights.ShouldBeUnique();
        rights
            .Concat(found.Where(f => f.Verdict == Verdict.Ambiguous).SelectMany(f => f.Candidates.Select(c => c.Key)))
            .ToHashSet()
            .ShouldBe(set.Right.Select(r => r.Key), ignoreOrder: true);
    }

    [Fact]
    public void No_assignment_is_worth_more_than_the_one_found()
    {
        var edges = Gen.Select(Gen.Int[0, 4], Gen.Int[0, 4], Gen.Double[0.05, 1])
            .Select((l, r, v) => new Edge(l, r, Math.Round(v, 3)))
            .List[0, 14];
        edges.Sample(
            all =>
            {
                var unique = all.DistinctBy(e => (e.Left, e.Right)).ToList();
                var given = Assignment.Best(unique, 5, 5);
                var worth = given.Select((r, l) => r < 0 ? 0 : unique.First(e => e.Left == l && e.Right == r).Value).Sum();
                given.Where(r => r >= 0).ShouldBeUnique();
                worth.ShouldBeGreaterThanOrEqualTo(BestByTrying(unique, 0, []) - 5 * Assignment.Step - 1e-9);
            },
            iter: 400
        );
    }

    [Fact]
    public void A_large_search_gives_up_when_told()
    {
        var set = PairSet.Make(2000, 3);
        using var cancel = new CancellationTokenSource();
        cancel.Cancel();
        Should.Throw<OperationCanceledException>(() =>
            ItemPairing.Pair(set.Left, set.Right, new SideNames("left", "right"), null, cancel.Token)
        );
    }

    private static double BestByTrying(List<Edge> edges, int left, HashSet<int> taken)
    {
        if (left == 5)
            return 0;
        var best = BestByTrying(edges, left + 1, taken);
        foreach (var edge in edges.Where(e => e.Left == left && taken.Add(e.Right)))
        {
            best = Math.Max(best, edge.Value + BestByTrying(edges, left + 1, taken));
            taken.Remove(edge.Right);
        }

        return best;
    }

    private static PairFinding One(ItemToPair left, ItemToPair right) => Pair([left], [right]).First(f => f.LeftKey is not null);

    private static IReadOnlyList<PairFinding> Pair(ItemToPair[] left, ItemToPair[] right) =>
        ItemPairing.Pair(left, right, new SideNames("Hub", "Shop"));

    private static string Words(PairFinding finding) =>
        string.Join("; ", finding.Evidence.Concat(finding.Candidates.SelectMany(c => c.Evidence)).Select(e => e.Words));

    private static ItemToPair Item(
        string key,
        string? sku,
        string? title,
        string? barcode = null,
        string? option = null,
        string? group = null
    ) =>
        new()
        {
            Key = key,
            Sku = sku,
            Title = title,
            Barcode = barcode,
            Option = option,
            Group = group,
        };
}
