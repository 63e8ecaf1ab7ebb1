using Narbit.Adapters.Rest;

namespace Narbit.Adapters.Describing;

/// <summary>What a system's own contract says of it. It counts only once a person has seen it.</summary>
public sealed record ContractProposal
{
    /// <summary>The system's name.</summary>
    public string? Name { get; init; }

    /// <summary>Where it is; null: the contract does not say.</summary>
    public string? Address { get; init; }

    /// <summary>How callers sign in.</summary>
    public required RestAuthentication Authentication { get; init; }

    /// <summary>A call that shows whether it answers; null: its first list is as good.</summary>
    public string? TestPath { get; init; }

    /// <summary>Its lists, those of kinds that Narbit keeps in step first.</summary>
    public required IReadOnlyList<ResourceProposal> Resources { get; init; }
}
