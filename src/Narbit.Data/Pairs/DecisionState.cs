using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Core.Records;

namespace Narbit.Data.Pairs;

[JsonConverter(typeof(CamelCaseEnum<DecisionState>))]
public enum DecisionState
{
    Waiting,
    Committed,
    Undone,
    ThrownAway,
}
