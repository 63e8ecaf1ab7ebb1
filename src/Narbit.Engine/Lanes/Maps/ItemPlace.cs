using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes.Maps;

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
