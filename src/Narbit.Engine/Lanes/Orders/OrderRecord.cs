using Narbit.Core.Records;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>An order or a document as the mirror has it, with its lists.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Values">Canonical values.</param>
/// <param name="Problems">What could not be read.</param>
/// <param name="Children">Its lists.</param>
public sealed record OrderRecord(
    string Key,
    IReadOnlyDictionary<string, string> Values,
    IReadOnlyList<FieldProblem> Problems,
    RecordChildren Children
)
{
    /// <summary>A record as the mirror has it.</summary>
    public static OrderRecord Of(MirrorRow row) =>
        new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems), RecordChildren.Read(row.Children));
}
