using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Jobs;

/// <summary>How a lane stands in a turn.</summary>
[JsonConverter(typeof(CamelCaseEnum<TurnStepState>))]
public enum TurnStepState
{
    /// <summary>Its turn has not come.</summary>
    Waiting,

    /// <summary>Its run is at work.</summary>
    Working,

    /// <summary>Its run is over, or waits for a person.</summary>
    Done,

    /// <summary>Its run failed, or could not begin.</summary>
    Failed,

    /// <summary>It was left out.</summary>
    LeftOut,
}
