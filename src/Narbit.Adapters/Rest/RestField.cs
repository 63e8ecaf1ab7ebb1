namespace Narbit.Adapters.Rest;

/// <summary>A field.</summary>
public sealed record RestField : DocumentField
{
    /// <summary>
    /// Where the record keeps it: names joined by dots; ^ at the start reaches the entry around a nested record. Needed unless it is
    /// always the same.
    /// </summary>
    public string? Path { get; init; }

    /// <summary>What the system's codes mean, where the value is such a code.</summary>
    public IReadOnlyDictionary<string, string>? Codes { get; init; }

    /// <inheritdoc/>
    protected override bool Shared => Path?.StartsWith('^') == true;
}
