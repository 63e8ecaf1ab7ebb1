using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Lanes.Customers;

/// <summary>Which customers a lane is about.</summary>
[JsonConverter(typeof(CamelCaseEnum<CustomersTaken>))]
public enum CustomersTaken
{
    /// <summary>All of them.</summary>
    All,

    /// <summary>Those who bought: an order of the source names their account, mail address or telephone number.</summary>
    Buyers,
}
