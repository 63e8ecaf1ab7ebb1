using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>A write of one record with all that is in it: it takes effect as a whole or not at all.</summary>
/// <param name="Key">The record's key; for one that is created, whatever tells it from the others of the batch.</param>
/// <param name="IdempotencyKey">The same for every attempt at the same write.</param>
/// <param name="Values">Canonical new values by field name; null empties the field.</param>
public sealed record RecordWrite(string Key, string IdempotencyKey, IReadOnlyDictionary<string, string?> Values)
{
    /// <summary>What is done.</summary>
    public WriteAct Act { get; init; }

    /// <summary>For one that is created: the key of the parent it belongs to, where that is known.</summary>
    public string? Parent { get; init; }

    /// <summary>For one that is created: what it shares with its sisters.</summary>
    public string? Group { get; init; }

    /// <summary>For one that is created where Narbit gives the keys: its key, see <see cref="OfferedKind.NewKeysFrom"/>.</summary>
    public string? GivenKey { get; init; }

    /// <summary>The lists within it that are written with it.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;

    /// <summary>Whether an earlier attempt may have arrived; a no to the request of a later one says nothing of that.</summary>
    public bool InDoubt { get; init; }
}
