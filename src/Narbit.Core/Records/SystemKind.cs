using System.Text.Json.Serialization;

namespace Narbit.Core.Records;

/// <summary>What a system is to the business.</summary>
[JsonConverter(typeof(CamelCaseEnum<SystemKind>))]
public enum SystemKind
{
    /// <summary>An ERP.</summary>
    Erp,

    /// <summary>A point of sale.</summary>
    PointOfSale,

    /// <summary>A web store.</summary>
    WebStore,

    /// <summary>A marketplace.</summary>
    Marketplace,

    /// <summary>A supplier's catalogue.</summary>
    Supplier,
}
