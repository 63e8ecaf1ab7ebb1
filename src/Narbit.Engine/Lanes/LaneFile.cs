using Narbit.Core.Guarding;
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

/// <summary>One side of a lane file.</summary>
public sealed record LaneFileSide
{
    /// <summary>The system's name.</summary>
    public string? System { get; init; }

    /// <summary>In a table: the column with what tells records apart, and by which the two sides are matched.</summary>
    public string Key { get; init; } = "key";

    /// <summary>The fields; none: every column of the table is text that may be written.</summary>
    public IReadOnlyList<LaneFileField> Fields { get; init; } = [];
}

/// <summary>A whole lane as a file: what it takes, its document, its guards, and what the two sides look like.</summary>
public sealed record LaneFile
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/lane/2";

    /// <summary>The format's earlier version, in which the document had no kind of its own.</summary>
    public const string EarlierFormat = "narbit/lane/1";

    /// <summary>The format that it was written in; what is written now is <see cref="CurrentFormat"/>.</summary>
    public required string Format { get; init; }

    /// <summary>A name for people.</summary>
    public string? Name { get; init; }

    /// <summary>The source.</summary>
    public LaneFileSide Source { get; init; } = new();

    /// <summary>The target.</summary>
    public LaneFileSide Target { get; init; } = new();

    /// <summary>Only items whose SKU starts with this.</summary>
    public string? SkuStartsWith { get; init; }

    /// <summary>Only listings that buyers can see.</summary>
    public bool PublishedOnly { get; init; }

    /// <summary>What the lane goes by: its kind, and the rule or map.</summary>
    public required LaneDocument Document { get; init; }

    /// <summary>The guards' limits; missing: the usual ones.</summary>
    public GuardLimits? Guards { get; init; }
}
