using System.Text.Json;

namespace Narbit.Core.Guarding;

/// <summary>A guard that was tripped.</summary>
/// <param name="Kind">What it watches.</param>
/// <param name="Message">What was found and what the limit is, in words.</param>
/// <param name="Count">How many records.</param>
/// <param name="Worst">The worst cases, in words, worst first.</param>
public sealed record TrippedGuard(GuardKind Kind, string Message, int Count, IReadOnlyList<string> Worst)
{
    /// <summary>Reads those that were kept with a run.</summary>
    /// <param name="json">As kept; null: none.</param>
    public static IReadOnlyList<TrippedGuard> Read(string? json) =>
        json is null ? [] : JsonSerializer.Deserialize<List<TrippedGuard>>(json, RuleJson.Options)!;
}
