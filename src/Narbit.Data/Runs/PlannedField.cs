namespace Narbit.Data.Runs;

/// <summary>One field of a planned write: old value beside new value, with the trace.</summary>
public sealed class PlannedField
{
    public long WriteId { get; set; }

    public required string Field { get; set; }

    /// <summary>0 for the leading field.</summary>
    public int Position { get; set; }

    public string? Old { get; set; }

    public string? New { get; set; }

    /// <summary>The steps, JSON.</summary>
    public string? Trace { get; set; }

    /// <summary>Whether it was changed on both sides, so that a person decides which value counts.</summary>
    public bool Asks { get; set; }

    /// <summary>Whether it is left as it is, because it would be emptied and its system does not let it be.</summary>
    public bool Stays { get; set; }

    /// <summary>
    /// Whether the new value is the key of the record that another of the run's is made from, until that one has its own.
    /// </summary>
    public bool ToCome { get; set; }

    /// <summary>For a value that goes back: the target's own value, which both sides agree on once it has arrived.</summary>
    public string? Agrees { get; set; }
}
