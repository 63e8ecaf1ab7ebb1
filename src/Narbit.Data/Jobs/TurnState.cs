using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Jobs;

/// <summary>How a turn of a job stands.</summary>
[JsonConverter(typeof(CamelCaseEnum<TurnState>))]
public enum TurnState
{
    /// <summary>Its lanes are at work, or wait to be tried again.</summary>
    Working,

    /// <summary>It begins when the turn before it is over.</summary>
    Waiting,

    /// <summary>Its lanes have run.</summary>
    Done,

    /// <summary>A lane has failed.</summary>
    Failed,

    /// <summary>Nothing ran, for the reason that its fate says.</summary>
    NotRun,
}
