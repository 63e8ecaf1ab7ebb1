namespace Narbit.Core.Mapping;

/// <summary>Which of the source's records a lane takes.</summary>
/// <param name="Field">The field that is looked at, or <see cref="Available"/> or <see cref="Changed"/>.</param>
/// <param name="Is">How.</param>
/// <param name="Value">Against what; for <see cref="Test.OneOf"/> separated by semicolons, for <see cref="Test.Under"/> a branch of a
/// tree.</param>
public sealed record MapFilter(string Field, Test Is, string? Value = null)
{
    /// <summary>On hand less allocated over all locations, in pieces.</summary>
    public const string Available = "@available";

    /// <summary>When the record was first seen in its present form, UTC.</summary>
    public const string Changed = "@changed";
}
