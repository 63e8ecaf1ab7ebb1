using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What becomes of a listing whose item is no longer sold.</summary>
[JsonConverter(typeof(CamelCaseEnum<Withdrawal>))]
public enum Withdrawal
{
    /// <summary>Nothing.</summary>
    Leave,

    /// <summary>It is hidden.</summary>
    Hide,

    /// <summary>It is ended.</summary>
    End,
}
