namespace Narbit.Adapters.Rest;

/// <summary>An order of a list in which what changed last comes first.</summary>
public sealed record RestNewestFirst
{
    /// <summary>Where an entry says when it changed.</summary>
    public required string Path { get; init; }

    /// <summary>The form of that instant, as for fields; null: ISO 8601.</summary>
    public string? Format { get; init; }

    /// <summary>The parameter that asks for this order; null: the list has no other.</summary>
    public string? Parameter { get; init; }

    /// <summary>What the parameter says.</summary>
    public string? Value { get; init; }
}
