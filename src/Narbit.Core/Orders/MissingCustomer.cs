using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>What is done where no customer is found.</summary>
[JsonConverter(typeof(CamelCaseEnum<MissingCustomer>))]
public enum MissingCustomer
{
    /// <summary>One is created.</summary>
    Create,

    /// <summary>The order waits for a person.</summary>
    Hold,

    /// <summary>The rule's own customer is used.</summary>
    Use,
}
