using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<WriteState>))]
public enum WriteState
{
    /// <summary>Will be sent.</summary>
    Planned,

    /// <summary>Looks wrong; is sent only when a person chooses it.</summary>
    Held,

    /// <summary>Was not chosen.</summary>
    Skipped,

    /// <summary>On its way, or cut off on its way: the target must be asked.</summary>
    Unknown,

    /// <summary>The target took it.</summary>
    Sent,

    /// <summary>The target was read again and holds it.</summary>
    Confirmed,

    /// <summary>The target changed since it was read, so the value was not sent; the next run computes it anew.</summary>
    Overtaken,

    /// <summary>The target refused it, lost it, or does not hold what it accepted.</summary>
    Failed,
}
