using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes;

/// <summary>A record of the source or the target with its values and what could not be read of it.</summary>
/// <param name="Key">Its key; empty where there is no such record.</param>
/// <param name="Values">Canonical values.</param>
/// <param name="Problems">What could not be read.</param>
public sealed record SideRecord(string Key, IReadOnlyDictionary<string, string> Values, IReadOnlyList<FieldProblem> Problems)
{
    /// <summary>No record.</summary>
    public static SideRecord None { get; } = new("", new Dictionary<string, string>(), []);

    /// <summary>A record as the mirror has it.</summary>
    public static SideRecord Of(MirrorRow row) => new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems));

    /// <summary>A record as the mirror has it; none where it has none.</summary>
    public static SideRecord Of(MirrorRecord? record) =>
        record is null ? None : new(record.Key, StoredRecord.Values(record.Values), StoredRecord.Problems(record.Problems));
}
