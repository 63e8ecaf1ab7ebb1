using Narbit.Core.Pairing;

namespace Narbit.Data.Pairs;

/// <summary>Two records that belong together, or one that has no partner and the reason.</summary>
public sealed class PairRow
{
    public long Id { get; set; }

    public required string HubId { get; set; }

    public required string OtherId { get; set; }

    public string? HubKey { get; set; }

    public string? OtherKey { get; set; }

    public required PairVerdict Verdict { get; set; }

    public required string Evidence { get; set; }

    public string? Sku { get; set; }

    public string? Title { get; set; }
}
