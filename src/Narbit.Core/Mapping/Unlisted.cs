using System.Text.Json.Serialization;

namespace Narbit.Core.Mapping;

/// <summary>What becomes of a code that a crosswalk has no entry for.</summary>
[JsonConverter(typeof(CamelCaseEnum<Unlisted>))]
public enum Unlisted
{
    /// <summary>The record waits until there is an entry.</summary>
    Hold,

    /// <summary>The code is passed on as it is.</summary>
    Keep,

    /// <summary>The crosswalk's default is used.</summary>
    Default,
}
