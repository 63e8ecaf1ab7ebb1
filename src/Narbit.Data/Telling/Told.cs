namespace Narbit.Data.Telling;

/// <summary>What somebody was told of.</summary>
public sealed class Told
{
    public required string Person { get; set; }

    /// <summary>Of all that opened until then.</summary>
    public DateTimeOffset Until { get; set; }

    /// <summary>When the last message at once was made.</summary>
    public DateTimeOffset? AtOnceAt { get; set; }

    /// <summary>The last day that was summed up, ISO 8601.</summary>
    public string? SummedUpOn { get; set; }
}
