namespace Narbit.Core.Mapping;

/// <summary>How a lane publishes.</summary>
public sealed record PublishRule
{
    /// <summary>Which new records are created.</summary>
    public NewRecords New { get; init; }

    /// <summary>What becomes of new variants that appear at the target.</summary>
    public NewThere NewThere { get; init; }

    /// <summary>Whether they are created live; otherwise as drafts.</summary>
    public bool Live { get; init; }

    /// <summary>The most records that one run creates; the next run goes on. Null: no limit.</summary>
    public int? Portion { get; init; }

    /// <summary>When the item is gone from the source.</summary>
    public Withdrawal WhenGone { get; init; }

    /// <summary>When the item is hidden at the source.</summary>
    public Withdrawal WhenHidden { get; init; }

    /// <summary>When nothing of it is available.</summary>
    public Withdrawal WhenOutOfStock { get; init; }
}
