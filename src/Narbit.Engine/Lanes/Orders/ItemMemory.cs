using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Orders;
using Narbit.Data.Pairs;
using Narbit.Engine.Pairing;

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
