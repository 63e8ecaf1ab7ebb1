using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>A field in a description, whichever adapter reads it.</summary>
public abstract record DocumentField
{
    /// <summary>Narbit's name for it.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>The type.</summary>
    public FieldType Type { get; init; }

    /// <summary>What it means.</summary>
    public FieldRole Role { get; init; }

    /// <summary>For prices: the price list.</summary>
    public string? List { get; init; }

    /// <summary>The unit that a person reads.</summary>
    public string? Unit { get; init; }

    /// <summary>Whether every record must have it.</summary>
    public bool Required { get; init; }

    /// <summary>The canonical value that every record has, where the system does not say it itself, e.g. its only currency.</summary>
    public string? Always { get; init; }

    /// <summary>The name under which it is written; null: it is read only.</summary>
    public string? WriteAs { get; init; }

    /// <summary>The system's number times this is Narbit's: 0.01 for cents, 0.001 for grams.</summary>
    public decimal Factor { get; init; } = 1;

    /// <summary>The decimal mark of numbers in text, a point or a comma; with a comma they are written as text too.</summary>
    public char DecimalMark { get; init; } = '.';

    /// <summary>
    /// For dates: how the system writes them, as .NET names such forms, e.g. <c>dd.MM.yyyy</c>; null: ISO 8601. A form without a zone is
    /// in UTC. <c>seconds</c> and <c>milliseconds</c> are counts since 1970.
    /// </summary>
    public string? Format { get; init; }

    /// <summary>Whether a value can be taken away by writing nothing; false where the system ignores or refuses that.</summary>
    public bool CanBeEmptied { get; init; } = true;

    /// <summary>The most characters it takes.</summary>
    public int? MaxLength { get; init; }

    /// <summary>Whether sisters have it in common: it belongs to the product around them.</summary>
    protected virtual bool Shared => false;

    internal FieldDescription Describe() =>
        new(Name, Label ?? Name, Type, Role, List, Unit, Required, WriteAs is not null)
        {
            MaxLength = MaxLength,
            Shared = Shared,
            CanBeEmptied = CanBeEmptied,
        };
}
