using System.Text.Json.Serialization;

namespace Narbit.Core.Stock;

/// <summary>How a target's quantity follows the offer.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReplenishKind>))]
public enum ReplenishKind
{
    /// <summary>It is the offer.</summary>
    Mirror,

    /// <summary>It grows by what the source gained.</summary>
    FollowIncrease,

    /// <summary>It is filled up when it has run low.</summary>
    TopUp,
}
