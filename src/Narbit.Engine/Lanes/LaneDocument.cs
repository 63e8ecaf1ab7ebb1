using System.Text.Json.Serialization;
using Narbit.Core.Mapping;

namespace Narbit.Engine.Lanes;

/// <summary>
/// What a lane goes by, as one document: a rule, a map, a list of values. Its JSON says with <c>kind</c> what it is; each kind of
/// <see cref="LaneWork"/> has a document of its own.
/// </summary>
public abstract record LaneDocument
{
    /// <summary>The field map in it; null: it goes by something else.</summary>
    [JsonIgnore]
    public virtual FieldMap? Mapped => null;

    /// <summary>The same with another field map; for those that have one.</summary>
    public virtual LaneDocument WithMap(FieldMap map) => this;
}
