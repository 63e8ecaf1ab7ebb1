using Narbit.Core.Pairing;

namespace Narbit.Core.Tests.Pairing;

public sealed class CustomerPairingTests
{
    [Theory]
    [InlineData("020 912 5000", "+353209125000")]
    [InlineData("+353 (0)20 912-5000", "+353209125000")]
    [InlineData("00353 20 912 5000", "+353209125000")]
    [InlineData("12", null)]
    [InlineData("", null)]
    public void Phones_are_compared_in_E164(string written, string? form) => CustomerForm.Phone(written, "IE").ShouldBe(form);

    [Theory]
    [InlineData(" Maeve.Quarry@Example.COM ", "maeve.quarry@example.com")]
    [InlineData("maeve@töpfer.example", "maeve@xn--tpfer-jua.example")]
    [InlineData("no address", null)]
    [InlineData("a@", null)]
    public void Emails_are_compared_in_one_form(string written, string? form) => CustomerForm.Email(written).ShouldBe(form);

    [Fact]
    public void The_same_email_and_name_is_certain()
    {
        var found = Pair(
            [
                new()
                {
                    Key = "1",
                    Email = "m@x.example",
                    Name = "Maeve Quarry",
                },
            ],
            [
                new()
                {
                    Key = "a",
                    Email = "M@X.example",
                    Name = "Quarry, Maeve",
                },
            ]
        );
        found[0].ShouldSatisfyAllConditions(f => f.Verdict.ShouldBe(Verdict.Certain), f => f.RightKey.ShouldBe("a"));
    }

    [Fact]
    public void An_email_of_two_customers_is_never_certain()
    {
        var found = Pair(
            [new() { Key = "1", Email = "m@x.example" }, new() { Key = "2", Email = "m@x.example" }],
            [new() { Key = "a", Email = "m@x.example" }]
        );
        found.ShouldAllBe(f => f.Verdict == Verdict.Ambiguous);
        found[0].Evidence.ShouldContain(e => e.Words == "email m@x.example belongs to 2 customers in Hub");
    }

    [Fact]
    public void Name_with_postcode_and_phone_is_likely()
    {
        var found = Pair(
            [
                new()
                {
                    Key = "1",
                    Name = "Oskar Windle",
                    Postcode = "LM02 A1K",
                    Phone = "020 911 5001",
                    Email = "o@x.example",
                },
                new()
                {
                    Key = "2",
                    Name = "Oskar Windle",
                    Postcode = "LM09 B1K",
                },
            ],
            [
                new()
                {
                    Key = "a",
                    Name = "Windle, Oskar",
                    Postcode = "lm02a1k",
                    Phone = "+353 20 911 5001",
                    Email = "office@x.example",
                },
            ]
        );
        found
            .First(f => f.LeftKey == "1")
            .ShouldSatisfyAllConditions(f => f.Verdict.ShouldBe(Verdict.Likely), f => f.RightKey.ShouldBe("a"));
        found.First(f => f.LeftKey == "2").RightKey.ShouldBeNull();
    }

    [Fact]
    public void Another_account_number_speaks_against_the_same_email()
    {
        var found = Pair(
            [
                new()
                {
                    Key = "1",
                    Email = "m@x.example",
                    Name = "Maeve Quarry",
                    Account = "40100",
                },
            ],
            [
                new()
                {
                    Key = "a",
                    Email = "m@x.example",
                    Name = "Maeve Quarry",
                    Account = "40999",
                },
            ]
        );
        found[0].Verdict.ShouldNotBe(Verdict.Certain);
        found[0]
            .Evidence.Concat(found[0].Candidates.SelectMany(c => c.Evidence))
            .ShouldContain(e => e.Effect == EvidenceEffect.Against && e.Kind == EvidenceKind.Account);
    }

    [Fact]
    public void Companies_agree_whatever_their_legal_form()
    {
        var found = Pair(
            [
                new()
                {
                    Key = "1",
                    Company = "Quarry Pottery Ltd",
                    Postcode = "LM1",
                    Account = "7",
                },
            ],
            [
                new()
                {
                    Key = "a",
                    Company = "Quarry Pottery Limited",
                    Postcode = "LM1",
                    Account = "07",
                },
            ]
        );
        found[0].Verdict.ShouldBe(Verdict.Certain);
    }

    private static IReadOnlyList<PairFinding> Pair(CustomerToPair[] left, CustomerToPair[] right) =>
        CustomerPairing.Pair(left, right, new SideNames("Hub", "Portal"), "IE");
}
