using CsCheck;
using Narbit.Core.Pairing;

namespace Narbit.Core.Tests.Pairing;

public sealed class SkuPairingTests
{
    private static readonly Gen<SkuRecord[]> Side =
        Gen.Int[0, 12].Select(Any.Of("", "A-", "a", "A ", "00A"), (n, prefix) => n == 0 ? null : $"{prefix}{n}").Array[0, 14]
            .Select(skus => skus.Select((sku, i) => new SkuRecord($"k{i}", sku)).ToArray());

    [Theory]
    [InlineData("GLZ-CEL-500", "glzcel500")]
    [InlineData(" 00 AB/12 ", "ab12")]
    [InlineData("ＡＢ１２", "AB12")]
    [InlineData("0012", "12")]
    [InlineData("a_b.c", "A-B-C")]
    public void Different_ways_of_writing_a_sku_have_one_form(string one, string other) => SkuForm.Of(one).ShouldBe(SkuForm.Of(other));

    [Theory]
    [InlineData("AB10", "AB1")]
    [InlineData("A01", "A1")]
    [InlineData("A1", "B1")]
    public void Different_skus_keep_different_forms(string one, string other) => SkuForm.Of(one).ShouldNotBe(SkuForm.Of(other));

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("  ")]
    [InlineData(" - ")]
    public void Nothing_has_no_form(string? sku) => SkuForm.Of(sku).ShouldBeNull();

    [Fact]
    public void A_sku_of_zeros_is_still_a_sku() => SkuForm.Of("000").ShouldBe("0");

    [Fact]
    public void Exact_comes_before_form()
    {
        var pairs = Pair([R("1", "AB-1"), R("2", "ab1")], [R("x", "AB-1"), R("y", "AB 1")]);
        Verdicts(pairs).ShouldBe(["1 x Exact", "2 y Form"]);
    }

    [Fact]
    public void A_sku_used_twice_is_never_guessed_and_says_by_whom()
    {
        var pairs = Pair([R("1", "AB-1"), R("2", "AB-1")], [R("x", "AB-1")]);
        pairs.ShouldAllBe(p => p.LeftKey == null || p.RightKey == null);
        pairs.Select(p => p.Verdict).ShouldAllBe(v => v == PairVerdict.UsedTwice);
        pairs.First(p => p.RightKey == "x").Evidence.ShouldBe("SKU AB-1 is used 2 times in Hub: 1, 2");
    }

    [Fact]
    public void Two_ways_of_writing_on_one_side_are_as_good_as_twice()
    {
        var pairs = Pair([R("1", "AB-1"), R("2", "ab1")], [R("x", "AB 1")]);
        pairs.ShouldAllBe(p => p.LeftKey == null || p.RightKey == null);
    }

    [Fact]
    public void Unpaired_records_say_why()
    {
        var pairs = Pair([R("1", null), R("2", "ZZ")], [R("x", "YY")]);
        pairs.First(p => p.LeftKey == "1").Verdict.ShouldBe(PairVerdict.SkuMissing);
        pairs.First(p => p.LeftKey == "2").Evidence.ShouldBe("no SKU ZZ in Shop");
        pairs.First(p => p.RightKey == "x").Evidence.ShouldBe("no SKU YY in Hub");
    }

    [Fact]
    public void The_order_of_the_records_never_matters() => Gen.Select(Side, Side, Gen.Int[0, 1000]).Sample((left, right, seed) =>
    {
        var (shuffledLeft, shuffledRight) = (left.ToArray(), right.ToArray());
        var random = new Random(seed);
        random.Shuffle(shuffledLeft);
        random.Shuffle(shuffledRight);
        Verdicts(Pair(shuffledLeft, shuffledRight)).ShouldBe(Verdicts(Pair(left, right)));
    });

    [Fact]
    public void Every_record_is_in_exactly_one_result() => Gen.Select(Side, Side).Sample((left, right) =>
    {
        var pairs = Pair(left, right);
        pairs.Where(p => p.LeftKey is not null).Select(p => p.LeftKey!).Order().ShouldBe(left.Select(r => r.Key).Order());
        pairs.Where(p => p.RightKey is not null).Select(p => p.RightKey!).Order().ShouldBe(right.Select(r => r.Key).Order());
    });

    [Fact]
    public void What_is_paired_has_the_same_form() => Gen.Select(Side, Side).Sample((left, right) =>
    {
        foreach (var pair in Pair(left, right).Where(p => p is { LeftKey: not null, RightKey: not null }))
            SkuForm.Of(left.First(r => r.Key == pair.LeftKey).Sku).ShouldBe(SkuForm.Of(right.First(r => r.Key == pair.RightKey).Sku));
    });

    private static SkuRecord R(string key, string? sku) => new(key, sku);

    private static IReadOnlyList<SkuPair> Pair(SkuRecord[] left, SkuRecord[] right) => SkuPairing.Pair(left, right, "Hub", "Shop");

    private static string[] Verdicts(IReadOnlyList<SkuPair> pairs) => [.. pairs.Select(p => $"{p.LeftKey} {p.RightKey} {p.Verdict}").Order(StringComparer.Ordinal)];
}
