using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Jobs;

/// <summary>What becomes of a turn in which a lane fails.</summary>
[JsonConverter(typeof(CamelCaseEnum<WhenFailed>))]
public enum WhenFailed
{
    /// <summary>The other lanes go on.</summary>
    GoOn,

    /// <summary>Lanes that have not begun stay where they are.</summary>
    Stop,

    /// <summary>The lane is tried again, and those that wait for it wait on.</summary>
    Again,
}
