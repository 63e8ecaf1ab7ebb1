namespace Narbit.Data.Mismatches;

/// <summary>Something that was done about one or many mismatches at once.</summary>
public sealed class MismatchAct
{
    public long Id { get; set; }

    public MismatchActKind Kind { get; set; }

    public required string By { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>What was said, or done in words.</summary>
    public string? Words { get; set; }

    /// <summary>How it is taken back, JSON; null: nothing outside the mismatches themselves was changed.</summary>
    public string? Undo { get; set; }

    public int Count { get; set; }

    /// <summary>Whether it also holds for what comes later and is alike.</summary>
    public bool Learned { get; set; }

    public DateTimeOffset? UndoneAt { get; set; }

    public string? UndoneBy { get; set; }
}
