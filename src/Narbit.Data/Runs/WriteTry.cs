namespace Narbit.Data.Runs;

/// <summary>An attempt at a write that was not simply accepted, and what became of it.</summary>
public sealed class WriteTry
{
    public long Id { get; set; }

    public long WriteId { get; set; }

    /// <summary>Which attempt: 1 is the first.</summary>
    public int Number { get; set; }

    public DateTimeOffset At { get; set; }

    public required KeptReason Why { get; set; }
}
