using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>By what a customer is found.</summary>
[JsonConverter(typeof(CamelCaseEnum<CustomerKey>))]
public enum CustomerKey
{
    /// <summary>The account.</summary>
    Account,

    /// <summary>The mail address.</summary>
    Email,

    /// <summary>The telephone number.</summary>
    Phone,

    /// <summary>Name and postcode together.</summary>
    NameAndPostcode,
}
