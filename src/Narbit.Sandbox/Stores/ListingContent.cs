namespace Narbit.Sandbox.Stores;

/// <summary>What a listing says; what is null stays.</summary>
public sealed record ListingContent(
    string? Title,
    string? Option = null,
    string? Category = null,
    string? Brand = null,
    string? Description = null,
    string? Image = null,
    bool? Published = null
);
