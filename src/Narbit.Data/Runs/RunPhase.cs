using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<RunPhase>))]
public enum RunPhase
{
    Read,
    Pair,
    Compute,
    Send,
    Confirm,
    Finished,
}
