using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Pairing;

namespace Narbit.Engine.Pairing;

/// <summary>How evidence, candidates and kits are kept in text columns.</summary>
public static class PairJson
{
    /// <summary>A value as JSON.</summary>
    public static string Write<T>(T value) => JsonSerializer.Serialize(value, RuleJson.Options);

    /// <summary>A list of reasons.</summary>
    public static IReadOnlyList<Evidence> Evidence(string json) => JsonSerializer.Deserialize<List<Evidence>>(json, RuleJson.Options)!;

    /// <summary>Reasons in one line.</summary>
    public static string Words(string json) => string.Join("; ", Evidence(json).Select(e => e.Words));

    /// <summary>A list of candidates.</summary>
    public static IReadOnlyList<KeptCandidate> Candidates(string json) =>
        JsonSerializer.Deserialize<List<KeptCandidate>>(json, RuleJson.Options)!;

    /// <summary>The items of a kit.</summary>
    public static IReadOnlyList<KitItem> Items(string? json) =>
        json is null ? [] : JsonSerializer.Deserialize<List<KitItem>>(json, RuleJson.Options)!;
}
