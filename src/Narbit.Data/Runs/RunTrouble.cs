namespace Narbit.Data.Runs;

/// <summary>A request of a run that was not answered at once, and what became of it.</summary>
public sealed class RunTrouble
{
    public long Id { get; set; }

    public long RunId { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>The system, by its name.</summary>
    public required string System { get; set; }

    /// <summary>The method and the path.</summary>
    public required string Request { get; set; }

    public int Attempts { get; set; }

    /// <summary>How many of the attempts had no answer.</summary>
    public int Lost { get; set; }

    public required KeptReason Why { get; set; }

    /// <summary>Whether the last attempt was answered.</summary>
    public bool Answered { get; set; }
}
