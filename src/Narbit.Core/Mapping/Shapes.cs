using Narbit.Core.Records;

namespace Narbit.Core.Mapping;

/// <summary>Shapes and field types.</summary>
public static class Shapes
{
    /// <summary>The shape of a field's values.</summary>
    public static Shape Of(FieldType type) =>
        type switch
        {
            FieldType.Html => Shape.Html,
            FieldType.Integer or FieldType.Decimal or FieldType.Money or FieldType.Percent or FieldType.Weight or FieldType.Length =>
                Shape.Number,
            FieldType.Boolean => Shape.Truth,
            FieldType.Instant => Shape.Instant,
            FieldType.Date => Shape.Day,
            FieldType.List => Shape.List,
            _ => Shape.Text,
        };

    /// <summary>A shape with its article, as a person reads it.</summary>
    public static string Words(this Shape shape) =>
        shape switch
        {
            Shape.Text => "text",
            Shape.Html => "HTML",
            Shape.Number => "a number",
            Shape.Truth => "true or false",
            Shape.Instant => "a date with time",
            Shape.Day => "a date",
            Shape.List => "a list",
            _ => string.Join(" or ", Enum.GetValues<Shape>().Where(s => shape.HasFlag(s)).Select(Words)),
        };
}
