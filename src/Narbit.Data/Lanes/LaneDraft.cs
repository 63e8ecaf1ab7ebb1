namespace Narbit.Data.Lanes;

/// <summary>A lane's document while somebody edits it: kept until it is saved as a version or thrown away.</summary>
public sealed class LaneDraft
{
    public required string LaneId { get; set; }

    /// <summary>Whose it is.</summary>
    public required string Person { get; set; }

    /// <summary>The version that it was begun on.</summary>
    public int BaseNumber { get; set; }

    /// <summary>The lane's document, JSON.</summary>
    public required string Document { get; set; }

    /// <summary>The guards' limits, JSON.</summary>
    public string? Guards { get; set; }

    public string? Note { get; set; }

    public required DateTimeOffset At { get; set; }

    /// <summary>The window that changed it last, as that window calls itself.</summary>
    public required string Window { get; set; }

    /// <summary>When it was thrown away; it can be brought back until another is begun. Null: it was not.</summary>
    public DateTimeOffset? ThrownAt { get; set; }
}
