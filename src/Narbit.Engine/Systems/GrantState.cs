using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Engine.Systems;

/// <summary>How far a request for access is.</summary>
[JsonConverter(typeof(CamelCaseEnum<GrantState>))]
public enum GrantState
{
    /// <summary>The person has not answered yet.</summary>
    Open,

    /// <summary>Access was granted.</summary>
    Given,

    /// <summary>It was not, or it could not be redeemed.</summary>
    Failed,
}
