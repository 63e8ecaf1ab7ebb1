using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Pairs;

/// <summary>Where a batch of decisions comes from.</summary>
[JsonConverter(typeof(CamelCaseEnum<BatchOrigin>))]
public enum BatchOrigin
{
    /// <summary>A person put it into force.</summary>
    Person,

    /// <summary>Pairing linked by itself what is certain.</summary>
    Pairing,

    /// <summary>A first stock-taking.</summary>
    StockTaking,
}
