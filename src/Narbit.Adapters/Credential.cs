namespace Narbit.Adapters;

/// <summary>The secret with which Narbit signs in to a system. Never logged, never returned.</summary>
/// <param name="User">The user, where the system asks for one.</param>
/// <param name="Secret">The password, key or token.</param>
public sealed record Credential(string? User, string Secret)
{
    /// <summary>What a person has granted, for systems that want that; null: nothing.</summary>
    public IGrant? Grant { get; init; }

    /// <summary>Says that there is a credential and nothing of what it is.</summary>
    public override string ToString() => "(credential)";
}
