using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>A change of a value, and the write of ours that made it, where one did.</summary>
/// <param name="Change">What was seen.</param>
/// <param name="Write">The write; null: somebody else changed it.</param>
public sealed record KnownChange(ValueChange Change, OwnWrite? Write);
