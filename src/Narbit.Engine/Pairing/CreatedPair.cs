namespace Narbit.Engine.Pairing;

/// <summary>A record that a run created, to be linked with the one that it was made from.</summary>
/// <param name="SourceKey">The source's record.</param>
/// <param name="TargetKey">The target's.</param>
/// <param name="RunId">The run.</param>
/// <param name="By">Who started it.</param>
public sealed record CreatedPair(string SourceKey, string TargetKey, long RunId, string By)
{
    /// <summary>What a person knows the record by.</summary>
    public string? Reference { get; init; }

    /// <summary>What it is in words.</summary>
    public string? Caption { get; init; }
}
