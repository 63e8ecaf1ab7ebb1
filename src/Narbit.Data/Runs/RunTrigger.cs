using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Runs;

[JsonConverter(typeof(CamelCaseEnum<RunTrigger>))]
public enum RunTrigger
{
    Person,
    Timetable,
    Setup,
    Event,
}
