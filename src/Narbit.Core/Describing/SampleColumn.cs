using Narbit.Core.Records;

namespace Narbit.Core.Describing;

/// <summary>What a value in a sample is, as the system writes it.</summary>
public enum SampleForm
{
    /// <summary>Text.</summary>
    Text,

    /// <summary>A number.</summary>
    Number,

    /// <summary>True or false.</summary>
    Truth,

    /// <summary>A list of texts or numbers.</summary>
    List,
}

/// <summary>A value in a sample.</summary>
/// <param name="Form">What it is.</param>
/// <param name="Text">It as text; of a list, its first entry.</param>
public readonly record struct SampleValue(SampleForm Form, string Text);

/// <summary>One field of a sample: what stands at a path in each of its records.</summary>
/// <param name="Path">Where it stands: names joined by dots, with ^ before them where it stands around the record.</param>
/// <param name="Values">What stands there, one entry a record; null: nothing.</param>
public sealed record SampleColumn(string Path, IReadOnlyList<SampleValue?> Values)
{
    /// <summary>Its whole name, where a dot in it joins nothing, as in the columns of a table; null: the path's names are.</summary>
    public string? Heading { get; init; }

    /// <summary>What a contract says that it is; null: it says nothing, or there is none.</summary>
    public FieldType? Declared { get; init; }

    /// <summary>Whether a contract says that it is always there; null: it says nothing.</summary>
    public bool? Required { get; init; }

    /// <summary>The most characters that a contract allows.</summary>
    public int? MaxLength { get; init; }

    /// <summary>What its values look like.</summary>
    internal ValueReading Reading => field ??= new ValueReading(this);

    /// <summary>The words of its own name.</summary>
    public IReadOnlyList<string> Own => field ??= NameWords.Of(Heading ?? Names[^1]);

    /// <summary>The words of the names of the objects that it stands in.</summary>
    public IReadOnlyList<string> Around => field ??= Heading is null ? NameWords.Of(string.Join('.', Names[..^1])) : [];

    // Text within an element of XML is called by the element's name.
    private string[] Names => Path.Replace(".#text", "", StringComparison.Ordinal).TrimStart('^').Split('.');
}

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
