using System.Text.Json.Serialization;

namespace Narbit.Core.Pairing;

/// <summary>Which way a piece of evidence points.</summary>
[JsonConverter(typeof(CamelCaseEnum<EvidenceEffect>))]
public enum EvidenceEffect
{
    /// <summary>Speaks for the pair.</summary>
    For,

    /// <summary>Worth knowing, weighs nothing.</summary>
    Neutral,

    /// <summary>Speaks against the pair.</summary>
    Against,

    /// <summary>Rules the pair out unless something stronger says otherwise.</summary>
    Forbids,
}
