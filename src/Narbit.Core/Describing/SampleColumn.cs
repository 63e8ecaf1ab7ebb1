using Narbit.Core.Records;

namespace Narbit.Core.Describing;

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
