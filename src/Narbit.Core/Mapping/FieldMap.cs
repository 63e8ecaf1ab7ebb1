namespace Narbit.Core.Mapping;

/// <summary>
/// Everything that an item lane does, as one document: its field map, its crosswalks, what it takes and how it publishes.
/// </summary>
public sealed record FieldMap
{
    /// <summary>The target's fields, each once.</summary>
    public IReadOnlyList<FieldMapping> Fields { get; init; } = [];

    /// <summary>The crosswalks that its steps name.</summary>
    public IReadOnlyList<Crosswalk> Crosswalks { get; init; } = [];

    /// <summary>All of these must hold for a record to be taken.</summary>
    public IReadOnlyList<MapFilter> Filters { get; init; } = [];

    /// <summary>How it publishes.</summary>
    public PublishRule Publish { get; init; } = new();
}
