using Narbit.Core.Records;

namespace Narbit.Engine.People;

/// <summary>What Narbit wrote about a person.</summary>
public sealed record PersonWrite(
    long Run,
    RecordKind Record,
    string Key,
    DateTimeOffset? SentAt,
    IReadOnlyDictionary<string, string?> Values
);
