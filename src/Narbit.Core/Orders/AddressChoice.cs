using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What is done where an address is missing or outside.</summary>
[JsonConverter(typeof(CamelCaseEnum<AddressChoice>))]
public enum AddressChoice
{
    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own address takes its place.</summary>
    Placeholder,

    /// <summary>The order goes as it is.</summary>
    Take,
}
