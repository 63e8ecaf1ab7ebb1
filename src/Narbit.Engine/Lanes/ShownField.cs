using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A field as far as a screen needs it to show its values: by type, unit and currency.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Type">The type.</param>
/// <param name="Unit">The unit, or null.</param>
/// <param name="Way">Whether it is the target's, or the source's that a value goes back to.</param>
public sealed record ShownField(string Name, string Label, FieldType Type, string? Unit, Way Way = Way.There)
{
    /// <summary>A described field.</summary>
    public static ShownField Of(FieldDescription field, Way way = Way.There) => new(field.Name, field.Label, field.Type, field.Unit, way);
}
