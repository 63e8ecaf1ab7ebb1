using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>A page of records.</summary>
/// <param name="Records">The records, in the system's order.</param>
/// <param name="Next">What to ask for next, or null after the last page.</param>
/// <param name="Listed">How many entries of the system's own list the page held (a product with three variants counts once).</param>
/// <param name="Total">How many entries the whole list has, where the system says.</param>
public sealed record RecordPage(IReadOnlyList<ReadRecord> Records, string? Next, int Listed, int? Total)
{
    /// <summary>Records of other kinds that the same entries hold, see <see cref="OfferedKind.ReadWith"/>; each key once.</summary>
    public IReadOnlyDictionary<RecordKind, IReadOnlyList<ReadRecord>> Beside { get; init; } =
        new Dictionary<RecordKind, IReadOnlyList<ReadRecord>>();

    /// <summary>What the page holds and cannot be kept; the other records can.</summary>
    public IReadOnlyList<UnkeptRecord> Unkept { get; init; } = [];

    /// <summary>When it was answered by the system's own clock; null: it does not say.</summary>
    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>When the entry that changed last changed, as the system says; null: it does not say.</summary>
    public DateTimeOffset? NewestChange { get; init; }
}
