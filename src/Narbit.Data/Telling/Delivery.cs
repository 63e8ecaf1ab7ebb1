namespace Narbit.Data.Telling;

/// <summary>A webhook that was made for another tool, and what became of it.</summary>
public sealed class Delivery
{
    public long Id { get; set; }

    public long ListenerId { get; set; }

    /// <summary>What the other tool knows it by, so that one that comes twice is taken once.</summary>
    public required string EventId { get; set; }

    /// <summary>JSON.</summary>
    public required string Body { get; set; }

    public DateTimeOffset MadeAt { get; set; }

    /// <summary>When the other tool took it; null: it has not yet.</summary>
    public DateTimeOffset? SentAt { get; set; }

    public int Tries { get; set; }

    /// <summary>When it is tried next; null: never again.</summary>
    public DateTimeOffset? NextAt { get; set; }

    /// <summary>Why it was not taken the last time.</summary>
    public string? Fault { get; set; }
}
