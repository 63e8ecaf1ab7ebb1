using System.Text.Json.Serialization;
using Narbit.Core.Mapping;
using Narbit.Core.Orders;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order rule with what goes back to the store, as a lane's document.</summary>
/// <param name="Rule">How orders become documents of the hub.</param>
public sealed record OrderPolicy(OrderRule Rule) : LaneDocument
{
    /// <summary>What the store hears.</summary>
    public WayBack Back { get; init; } = new();

    /// <summary>What becomes of documents whose orders change in the store.</summary>
    public AfterPostingRule After { get; init; } = new();

    /// <summary>What else the document needs: its other fields, by constants, crosswalks and fields of the order.</summary>
    public FieldMap Map { get; init; } = new();

    /// <summary>What lines are called at the hub.</summary>
    public LineTitles Titles { get; init; }

    /// <summary>What delivery costs at a store that ships for another one.</summary>
    public DeliveryCost Delivery { get; init; }

    /// <summary>Whether what the buyer wrote goes to the hub, and what the hub answers to the store.</summary>
    public bool Comments { get; init; } = true;

    /// <summary>Whether an address that the buyer's customer does not have yet is added to it.</summary>
    public bool AddsAddresses { get; init; } = true;

    /// <summary>The rule as it counts: an order in the state that Narbit itself gave it is as good as before.</summary>
    [JsonIgnore]
    public OrderRule InForce =>
        Back.Acknowledged is { } own && !Rule.States.ContainsKey(own)
            ? Rule with
            {
                States = new Dictionary<string, OrderOutcome>(Rule.States, StringComparer.Ordinal) { [own] = OrderOutcome.Take },
            }
            : Rule;

    /// <inheritdoc/>
    [JsonIgnore]
    public override FieldMap? Mapped => Map;

    /// <inheritdoc/>
    public override LaneDocument WithMap(FieldMap map) => this with { Map = map };
}
