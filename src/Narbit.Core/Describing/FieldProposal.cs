using Narbit.Core.Records;

namespace Narbit.Core.Describing;

/// <summary>What a field of a sample is taken for, and why. It counts only once a person has seen it.</summary>
public sealed record FieldProposal
{
    /// <summary>Where it stands.</summary>
    public required string Path { get; init; }

    /// <summary>Narbit's name for it, unique among its record's fields.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads.</summary>
    public required string Label { get; init; }

    /// <summary>The type.</summary>
    public required FieldType Type { get; init; }

    /// <summary>What it means.</summary>
    public FieldRole Role { get; init; }

    /// <summary>For prices: the price list; null: of no list in particular.</summary>
    public string? List { get; init; }

    /// <summary>The unit that a person reads.</summary>
    public string? Unit { get; init; }

    /// <summary>The system's number times this is Narbit's.</summary>
    public decimal Factor { get; init; } = 1;

    /// <summary>The decimal mark of numbers in text.</summary>
    public char DecimalMark { get; init; } = '.';

    /// <summary>How the system writes dates that are not ISO 8601.</summary>
    public string? Format { get; init; }

    /// <summary>Whether every record has it.</summary>
    public bool Required { get; init; }

    /// <summary>The most characters it takes.</summary>
    public int? MaxLength { get; init; }

    /// <summary>Why, a sentence each.</summary>
    public required IReadOnlyList<string> Reasons { get; init; }

    /// <summary>Up to five different values, as the system writes them.</summary>
    public required IReadOnlyList<string> Values { get; init; }
}
