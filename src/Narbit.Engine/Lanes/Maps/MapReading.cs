using Narbit.Core.Mapping;
using Narbit.Data;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>What a lane with a field map reads: pairs of records, with what stands around them.</summary>
/// <param name="work">The kind.</param>
public abstract class MapReading(LaneWork work) : LaneReading(work)
{
    /// <inheritdoc/>
    public override IAsyncEnumerable<LanePair> PairsAsync(
        OpenLane lane,
        Database database,
        IReadOnlyList<LaneDocument> documents,
        IReadOnlySet<string>? only,
        CancellationToken cancel
    ) => ItemPairs.ReadAsync(lane, database, [.. documents.Select(d => d.Mapped).OfType<FieldMap>()], only, cancel);
}
