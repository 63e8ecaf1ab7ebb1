namespace Narbit.Core.Orders;

/// <summary>What becomes of an order.</summary>
public sealed record OrderResult
{
    /// <summary>What becomes of it.</summary>
    public OrderOutcome Outcome { get; init; }

    /// <summary>Why it is not taken, in the order of the steps.</summary>
    public IReadOnlyList<OrderCause> Causes { get; init; } = [];

    /// <summary>What is worth knowing of one that is.</summary>
    public IReadOnlyList<string> Remarks { get; init; } = [];

    /// <summary>What the hub gets; null: it is skipped.</summary>
    public HubDocument? Document { get; init; }

    /// <summary>A credit note for each refund that has none.</summary>
    public IReadOnlyList<CreditNote> CreditNotes { get; init; } = [];

    /// <summary>The steps.</summary>
    public IReadOnlyList<TraceStep> Trace { get; init; } = [];
}
