using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>A record whose history is asked for, or a part of it that is kept as a record of its own, e.g. an item's stock level.</summary>
/// <param name="Record">As last read.</param>
/// <param name="CreatedBy">The write of ours that created it; null: none did.</param>
public sealed record KeptRecord(MirrorRecord Record, OwnWrite? CreatedBy);
