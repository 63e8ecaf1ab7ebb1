using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What a line of a document is.</summary>
[JsonConverter(typeof(CamelCaseEnum<DocumentLineKind>))]
public enum DocumentLineKind
{
    /// <summary>What was ordered.</summary>
    Goods,

    /// <summary>What is taken off.</summary>
    Discount,

    /// <summary>What sending it costs.</summary>
    Shipping,

    /// <summary>What is added.</summary>
    Fee,

    /// <summary>What makes up for what does not add up.</summary>
    Difference,
}
