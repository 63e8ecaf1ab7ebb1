namespace Narbit.Data.Mismatches;

/// <summary>That an act was about a mismatch, and how that stood before.</summary>
public sealed class ActOn
{
    public long ActId { get; set; }

    public long MismatchId { get; set; }

    public MismatchState StateBefore { get; set; }

    public DateTimeOffset? UntilBefore { get; set; }

    public string? OwnerBefore { get; set; }
}
