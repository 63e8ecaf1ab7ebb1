using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.People;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Data.Orders;
using Narbit.Data.People;
using Narbit.Data.Runs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;

namespace Narbit.Engine.People;

/// <summary>A record about a person, as its system has it.</summary>
public sealed record PersonRecord(string System, RecordKind Kind, string Key, JsonElement Raw, DateTimeOffset FirstReadAt);
