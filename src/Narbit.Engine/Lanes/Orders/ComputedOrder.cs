namespace Narbit.Engine.Lanes.Orders;

/// <summary>What is written of an order, with the judgement that it comes from.</summary>
internal sealed record ComputedOrder : Computed
{
    /// <param name="written">What is written.</param>
    /// <param name="judged">The order as it was judged.</param>
    internal ComputedOrder(Computed written, JudgedOrder judged)
        : base(written) => Judged = judged;

    /// <summary>The order as it was judged.</summary>
    public JudgedOrder Judged { get; }
}
