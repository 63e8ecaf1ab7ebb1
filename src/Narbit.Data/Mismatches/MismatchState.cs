using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Mismatches;

/// <summary>Where a mismatch stands.</summary>
[JsonConverter(typeof(CamelCaseEnum<MismatchState>))]
public enum MismatchState
{
    /// <summary>It needs a person.</summary>
    Open,

    /// <summary>A person wants to see it again later.</summary>
    PutOff,

    /// <summary>A person settled it.</summary>
    Settled,

    /// <summary>What was looked at last no longer shows it.</summary>
    Gone,
}
