namespace Narbit.Data.Mismatches;

/// <summary>How many of a cause were open at the end of a day, or are by now.</summary>
public sealed class MismatchDay
{
    /// <summary>The day in the workspace's zone, as <c>yyyy-MM-dd</c>.</summary>
    public required string Day { get; set; }

    public required string Cause { get; set; }

    public int Open { get; set; }
}
