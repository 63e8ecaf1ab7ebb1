using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<RunState>))]
public enum RunState
{
    /// <summary>Waiting for its turn or at work.</summary>
    Working,

    /// <summary>The change set is ready and waits for a person.</summary>
    Ready,

    /// <summary>Finished; single writes may have failed or been held.</summary>
    Done,

    /// <summary>Could not go on; nothing more will be sent until it is tried again.</summary>
    Failed,

    /// <summary>A preview that a later run made obsolete.</summary>
    Superseded,
}
