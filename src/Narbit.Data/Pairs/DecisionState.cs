using System.Text.Json.Serialization;
using Narbit.Core;

namespace Narbit.Data.Pairs;

[JsonConverter(typeof(CamelCaseEnum<DecisionState>))]
public enum DecisionState
{
    Waiting,
    Committed,
    Undone,
    ThrownAway,
}
