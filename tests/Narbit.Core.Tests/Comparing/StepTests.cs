using CsCheck;
using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Core.Tests.Comparing;

/// <summary>How a field stands in a full compare, and which pictures nobody can see.</summary>
public sealed class StepTests
{
    [Theory]
    [InlineData("10", "10.00", true, "7", null)]
    [InlineData("10", "12", true, "10", StepFinding.ToSend)]
    [InlineData("11", "12", true, "10", StepFinding.ChangedThere)]
    [InlineData("11", "12", false, null, StepFinding.ToSend)]
    [InlineData(null, "12", true, "12", StepFinding.ChangedThere)]
    [InlineData("11", null, true, null, StepFinding.ChangedThere)]
    [InlineData(null, null, true, "10", null)]
    public void A_field_is_in_step_changed_there_or_to_be_sent(
        string? there,
        string? should,
        bool known,
        string? agreed,
        StepFinding? finding
    ) => Step.Of(FieldType.Money, there, should, (known, agreed)).ShouldBe(finding);

    [Fact]
    public void What_is_as_it_should_be_is_in_step_whatever_was_agreed_and_what_was_never_agreed_was_never_changed_there()
    {
        var value = Gen.Int[0, 3].Select(n => n == 0 ? null : $"{n}");
        Gen.Select(value, value, value, Gen.Bool)
            .Sample(
                (there, should, agreed, known) =>
                {
                    var finding = Step.Of(FieldType.Money, there, should, (known, agreed));
                    return (finding is null) == (there == should) && (known || finding != StepFinding.ChangedThere);
                }
            );
    }

    [Theory]
    [InlineData("pictures/10089.jpg", true)]
    [InlineData("pictures/10089", true)]
    [InlineData("pictures/10091.pdf", false)]
    [InlineData("https://lanternmoor.example/a.webp", true)]
    [InlineData("http://192.168.4.20/10089.jpg", false)]
    [InlineData("https://lanternmoor.example/a.docx", false)]
    public void The_end_of_an_address_may_be_one_of_a_picture(string address, bool fits) =>
        (ImageAddress.FaultOfPart(address) is null).ShouldBe(fits);
}
