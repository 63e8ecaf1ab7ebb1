using Narbit.Core;
using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>
/// An order as a lane judges it, once: what is written of it, where it stands, its page, its mismatches and its proof are views of this.
/// </summary>
/// <param name="Place">The order, and what the hub knows.</param>
public sealed record JudgedOrder(OrderPlace Place)
{
    /// <summary>Why it cannot be read; null: it can.</summary>
    public Reason? Unreadable { get; init; }

    /// <summary>The order; null: it cannot be read.</summary>
    public Order? Order { get; init; }

    /// <summary>What the rule makes of it; null: it cannot be read.</summary>
    public OrderResult? Result { get; init; }

    /// <summary>The order beside its document; null: there is none, or the mirror has not seen it.</summary>
    internal PostedOrder? Posted { get; init; }

    /// <summary>Why it is not taken, or why a person decides; none: nothing is in its way.</summary>
    public IReadOnlyList<CauseOfOrder> Causes { get; init; } = [];

    /// <summary>What becomes of it; of one that the hub has: whether a person decides.</summary>
    public OrderOutcome Outcome { get; init; }

    /// <summary>Whether the hub has it.</summary>
    public bool IsPosted => Place.HubKey is not null;

    /// <summary>Why nothing is written of it, as a run says it; null: nothing is in its way.</summary>
    internal Reason? Why
    {
        get
        {
            if (Unreadable is { } unreadable)
                return unreadable;
            if (Outcome is not (OrderOutcome.Hold or OrderOutcome.Wait))
                return null;
            var first = Causes.FirstOrDefault(c => c.Outcome == Outcome) ?? Causes[0];
            var words = OrderWords.Of(Causes);
            return Outcome == OrderOutcome.Wait
                ? new Reason($"orderWaits.{first.Code}", $"waits: {words}")
                : new Reason($"orderHeld.{first.Code}", words);
        }
    }

    /// <summary>One that cannot be read.</summary>
    internal static JudgedOrder Not(OrderPlace place, Reason why) =>
        new(place)
        {
            Unreadable = why,
            Outcome = OrderOutcome.Hold,
            Causes = [CauseOfOrder.Of(why.Code.Split('.')[^1], why)],
        };
}
