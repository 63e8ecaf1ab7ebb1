namespace Narbit.Core.Mapping;

/// <summary>Everything that a chain may look at.</summary>
/// <param name="Own">The source's record.</param>
/// <param name="Parent">The first record of its group; null where it is that record itself, or has no group.</param>
/// <param name="There">The paired record at the target; empty where there is none.</param>
/// <param name="Levels">The stock levels that belong to it.</param>
/// <param name="Paired">The target's key for a key or SKU of the source; null where it is not paired.</param>
/// <param name="Key">The source's key of the record; null: it is of no matter.</param>
/// <param name="ParentKey">The source's key of <paramref name="Parent"/>.</param>
public sealed record MapRecord(
    IReadOnlyDictionary<string, string> Own,
    IReadOnlyDictionary<string, string>? Parent = null,
    IReadOnlyDictionary<string, string>? There = null,
    IReadOnlyList<IReadOnlyDictionary<string, string>>? Levels = null,
    Func<string, string?>? Paired = null,
    string? Key = null,
    string? ParentKey = null
)
{
    private static readonly IReadOnlyDictionary<string, string> Nothing = new Dictionary<string, string>();

    /// <summary>A field's stored value in one of the records; null where there is none.</summary>
    internal string? Value(SourceRecord record, string field) =>
        (
            record switch
            {
                SourceRecord.Parent => Parent ?? Own,
                SourceRecord.There => There ?? Nothing,
                _ => Own,
            }
        ).GetValueOrDefault(field);
}
