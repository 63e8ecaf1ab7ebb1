namespace Narbit.Data.Orders;

/// <summary>Where an order stands.</summary>
[System.Text.Json.Serialization.JsonConverter(typeof(Core.CamelCaseEnum<OrderStage>))]
public enum OrderStage
{
    /// <summary>It can go to the hub, and has not yet.</summary>
    New,

    /// <summary>It is looked at again later, by itself.</summary>
    Waiting,

    /// <summary>A person decides.</summary>
    Held,

    /// <summary>The hub has it.</summary>
    Taken,

    /// <summary>The hub has it, and the store knows.</summary>
    Acknowledged,

    /// <summary>It was sent, and the store knows.</summary>
    Shipped,

    /// <summary>It is none of the hub's.</summary>
    Skipped,
}
