namespace Narbit.Data.Pairs;

/// <summary>Decisions that were put into force together, and can be taken back together.</summary>
public sealed class PairBatch
{
    public long Id { get; set; }

    public long CoupleId { get; set; }

    public BatchOrigin Origin { get; set; }

    public required string By { get; set; }

    public required DateTimeOffset At { get; set; }

    public string? Note { get; set; }

    public int Decisions { get; set; }

    public string? UndoneBy { get; set; }

    public DateTimeOffset? UndoneAt { get; set; }

    /// <summary>For a batch of pairing's own that was undone: how the stock-taking was done until then.</summary>
    public StockTakingWay? WayBefore { get; set; }
}
