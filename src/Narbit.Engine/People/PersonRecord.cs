using System.Text.Json;
using Narbit.Core.Records;

namespace Narbit.Engine.People;

/// <summary>A record about a person, as its system has it.</summary>
public sealed record PersonRecord(string System, RecordKind Kind, string Key, JsonElement Raw, DateTimeOffset FirstReadAt);
