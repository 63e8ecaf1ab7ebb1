using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Records;

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
