using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>For which orders it is kept which item a SKU is.</summary>
[JsonConverter(typeof(CamelCaseEnum<ItemMemory>))]
public enum ItemMemory
{
    /// <summary>For those in which the default item stands in for it now.</summary>
    Once,

    /// <summary>For all orders of the store, also those to come.</summary>
    Orders,

    /// <summary>As a pair of items, so that every lane knows it.</summary>
    Pair,
}
