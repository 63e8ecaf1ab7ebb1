using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data.Lanes;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;

namespace Narbit.Engine.Lanes;

/// <summary>A record of the source or the target with its values and what could not be read of it.</summary>
/// <param name="Key">Its key; empty where there is no such record.</param>
/// <param name="Values">Canonical values.</param>
/// <param name="Problems">What could not be read.</param>
public sealed record SideRecord(string Key, IReadOnlyDictionary<string, string> Values, IReadOnlyList<FieldProblem> Problems)
{
    /// <summary>No record.</summary>
    public static SideRecord None { get; } = new("", new Dictionary<string, string>(), []);

    /// <summary>A record as the mirror has it.</summary>
    public static SideRecord Of(MirrorRow row) => new(row.Key, StoredRecord.Values(row.Values), StoredRecord.Problems(row.Problems));

    /// <summary>A record as the mirror has it; none where it has none.</summary>
    public static SideRecord Of(MirrorRecord? record) =>
        record is null ? None : new(record.Key, StoredRecord.Values(record.Values), StoredRecord.Problems(record.Problems));
}

/// <summary>How a record of the source stands at the target.</summary>
public enum Presence
{
    /// <summary>It has a listing.</summary>
    Paired,

    /// <summary>It has none, and somebody chose it to be created.</summary>
    Chosen,

    /// <summary>It has none, and a sister of it has one.</summary>
    SisterThere,

    /// <summary>It has none, and neither has any sister.</summary>
    New,

    /// <summary>It is gone from the source, and its listing is still there.</summary>
    Gone,

    /// <summary>The target has it as a variant of an item that both sides know; the source has it not.</summary>
    OnlyThere,
}

/// <summary>What an item lane looks at beyond the two records.</summary>
/// <param name="Record">What a chain may look at.</param>
/// <param name="Presence">How it stands at the target.</param>
public sealed record ItemPlace(MapRecord Record, Presence Presence)
{
    /// <summary>When the source's record changed.</summary>
    public DateTimeOffset? HereAt { get; init; }

    /// <summary>When the target's record changed.</summary>
    public DateTimeOffset? ThereAt { get; init; }

    /// <summary>For one that is to be created: the parent of a sister's listing.</summary>
    public string? Parent { get; init; }

    /// <summary>For one that is to be created: what it shares with its sisters.</summary>
    public string? Group { get; init; }

    /// <summary>The key of a record of the other side that has a SKU already.</summary>
    public Func<string, string?>? WithSku { get; init; }

    /// <summary>Whether the product around its listing has other variants that go on being sold.</summary>
    public bool SistersStay { get; init; }
}

/// <summary>A pair of records that lies in a lane's scope.</summary>
/// <param name="Source">The source's record.</param>
/// <param name="Target">The target's record.</param>
/// <param name="Reference">What a person knows the record by: the source's SKU or number.</param>
/// <param name="Caption">What it is in words.</param>
public sealed record LanePair(SideRecord Source, SideRecord Target, string? Reference, string? Caption)
{
    private static readonly IReadOnlyDictionary<string, Agreed> Nothing = new Dictionary<string, Agreed>();

    /// <summary>What both sides last agreed on, by the target's field.</summary>
    public IReadOnlyDictionary<string, Agreed> Agreed { get; init; } = Nothing;

    /// <summary>The source's stock levels of the item.</summary>
    public IReadOnlyList<StockLevel> Levels { get; init; } = [];

    /// <summary>Why the source's stock levels cannot be believed; null: they can.</summary>
    public string? LevelProblem { get; init; }

    /// <summary>What a kit stands for; empty where the target's record is no kit.</summary>
    public IReadOnlyList<KitPart> Kit { get; init; } = [];

    /// <summary>For an item lane: what it looks at beyond the two records.</summary>
    public ItemPlace? Item { get; init; }

    /// <summary>For an order lane: the order, and what the hub knows of it.</summary>
    public Orders.OrderPlace? Order { get; init; }

    /// <summary>The record as a person knows it.</summary>
    public string Name =>
        Reference is { Length: > 0 } ? Reference
        : Target.Key.Length > 0 ? Target.Key
        : Source.Key;
}
