namespace Narbit.Sandbox.WebShop;

/// <summary>What a page of the shop says; what is null stays.</summary>
public sealed record ShopContent(
    string? Title,
    string? BodyHtml,
    string? Category,
    string? Option,
    decimal? WeightKg,
    bool? Published,
    IReadOnlyList<string>? Images,
    IReadOnlyList<string>? Related
);
