namespace Narbit.Data.Pairs;

/// <summary>A pair in force: this record there is that record here. A kit has several.</summary>
public sealed class PairLink
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public required string HubKey { get; set; }

    public required string OtherKey { get; set; }

    /// <summary>How many of the hub's item one of the listing stands for.</summary>
    public decimal Quantity { get; set; } = 1;

    public bool IsKit { get; set; }

    /// <summary>The decision it comes from.</summary>
    public long DecisionId { get; set; }
}
