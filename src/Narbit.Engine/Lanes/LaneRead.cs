using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>What a lane must read before it can compute.</summary>
/// <param name="SystemId">The system.</param>
/// <param name="Kind">The kind of record.</param>
public readonly record struct LaneRead(string SystemId, RecordKind Kind);
