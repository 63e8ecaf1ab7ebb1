namespace Narbit.Engine.Pairing;

/// <summary>A record that a search for a partner found.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Reference">What a person knows it by.</param>
/// <param name="Caption">What it is, in words.</param>
/// <param name="Option">Which variant it is; null: it says none.</param>
/// <param name="State">free, paired, kit or setAside.</param>
/// <param name="With">The key of its partner; null: it has none.</param>
public sealed record FoundRecord(string Key, string? Reference, string? Caption, string? Option, string State, string? With);
