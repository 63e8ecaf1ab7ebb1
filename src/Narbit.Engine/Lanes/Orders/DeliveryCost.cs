using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What delivery costs at a store that ships for another one.</summary>
[JsonConverter(typeof(CamelCaseEnum<DeliveryCost>))]
public enum DeliveryCost
{
    /// <summary>What it cost where it was bought.</summary>
    Copied,

    /// <summary>Nothing.</summary>
    Zero,
}
