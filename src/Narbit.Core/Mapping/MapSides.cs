using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>The two systems that a map stands between: what their records have.</summary>
/// <param name="Source">The source's item fields.</param>
/// <param name="Target">The target's item fields.</param>
/// <param name="Levels">The source's stock level fields, where it has any.</param>
public sealed record MapSides(FieldSet Source, FieldSet Target, FieldSet? Levels = null)
{
    /// <summary>The fields of the record that a mapping takes its value from.</summary>
    internal FieldSet? Of(SourceRecord record) =>
        record switch
        {
            SourceRecord.There => Target,
            SourceRecord.StockLevels => Levels,
            _ => Source,
        };
}
