namespace Narbit.Data.Mirror;

/// <summary>A record that a whole reading did not meet.</summary>
/// <param name="Id">Its number in the mirror.</param>
/// <param name="Key">Its key.</param>
/// <param name="Before">Whether the whole reading before did not meet it either.</param>
public readonly record struct MissingRecord(long Id, string Key, bool Before);
