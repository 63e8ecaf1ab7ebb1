using System.Text.Json.Serialization;

namespace Narbit.Core.Orders;

/// <summary>Whether kits go as they are or as their components.</summary>
[JsonConverter(typeof(CamelCaseEnum<KitChoice>))]
public enum KitChoice
{
    /// <summary>As any other SKU.</summary>
    Keep,

    /// <summary>As their components.</summary>
    Split,
}
