using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>What the lines of a document are called.</summary>
[JsonConverter(typeof(CamelCaseEnum<LineTitles>))]
public enum LineTitles
{
    /// <summary>As they were sold.</summary>
    AsSold,

    /// <summary>As the hub calls its items.</summary>
    AsHere,
}
