namespace Narbit.Adapters.Rest;

/// <summary>How records are found by what stands in a field.</summary>
public sealed record RestFind : RestAsk
{
    /// <summary>The field's name.</summary>
    public required string Field { get; init; }
}
