using System.Text.Json.Serialization;
using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes.Customers;

/// <summary>A field map of customers as a lane's document.</summary>
/// <param name="Map">The map.</param>
public sealed record CustomerDocument(FieldMap Map) : LaneDocument
{
    /// <summary>Which customers are written.</summary>
    public CustomersTaken Taken { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override FieldMap? Mapped => Map;

    /// <inheritdoc/>
    public override LaneDocument WithMap(FieldMap map) => this with { Map = map };
}
