using Narbit.Core.Records;

namespace Narbit.Engine.Lanes;

/// <summary>A field of one side, as a lane file describes it.</summary>
public sealed record LaneFileField
{
    /// <summary>Its name; in a table, the column.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>The type.</summary>
    public FieldType Type { get; init; }

    /// <summary>What it means.</summary>
    public FieldRole Role { get; init; }

    /// <summary>For prices: the price list.</summary>
    public string? List { get; init; }

    /// <summary>The unit.</summary>
    public string? Unit { get; init; }

    /// <summary>Whether a record must have it.</summary>
    public bool Required { get; init; }

    /// <summary>Whether it may be written.</summary>
    public bool Writable { get; init; }

    /// <summary>The most characters it takes.</summary>
    public int? MaxLength { get; init; }

    /// <summary>Whether sisters have it in common.</summary>
    public bool Shared { get; init; }

    /// <summary>The field.</summary>
    public FieldDescription Describe() =>
        new(Name, Label ?? Name, Type, Role, List, Unit, Required, Writable) { MaxLength = MaxLength, Shared = Shared };

    /// <summary>A described field.</summary>
    public static LaneFileField Of(FieldDescription field) =>
        new()
        {
            Name = field.Name,
            Label = field.Label == field.Name ? null : field.Label,
            Type = field.Type,
            Role = field.Role,
            List = field.List,
            Unit = field.Unit,
            Required = field.Required,
            Writable = field.Writable,
            MaxLength = field.MaxLength,
            Shared = field.Shared,
        };
}
