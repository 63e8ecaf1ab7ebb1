using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What is done with a SKU that the hub does not know.</summary>
[JsonConverter(typeof(CamelCaseEnum<UnknownItem>))]
public enum UnknownItem
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own item is used.</summary>
    Use,

    /// <summary>The line is left out.</summary>
    Omit,
}
