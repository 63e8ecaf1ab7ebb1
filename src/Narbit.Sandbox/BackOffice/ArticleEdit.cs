namespace Narbit.Sandbox.BackOffice;

/// <summary>A change of an article's particulars by a program; what is null stays.</summary>
public sealed record ArticleEdit
{
    public string? Key { get; init; }

    public required string Number { get; init; }

    public string? Sku { get; init; }

    public string? Barcode { get; init; }

    public string? TaxCode { get; init; }

    public int? WeightGrams { get; init; }

    public string? Picture { get; init; }

    public string? Name { get; init; }

    public bool? Active { get; init; }

    public string? Option { get; init; }

    public string? Category { get; init; }

    public string? NewIn { get; init; }

    public IReadOnlyDictionary<string, decimal>? Prices { get; init; }

    public bool Ended { get; init; }
}
