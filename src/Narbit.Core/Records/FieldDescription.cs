namespace Narbit.Core.Records;

/// <summary>A field as its system describes it.</summary>
/// <param name="Name">The name, unique within the record kind.</param>
/// <param name="Label">The name a person reads.</param>
/// <param name="Type">The type.</param>
/// <param name="Role">What it means.</param>
/// <param name="List">For prices: the price list.</param>
/// <param name="Unit">The unit, e.g. kg.</param>
/// <param name="Required">Whether a record must have it.</param>
/// <param name="Writable">Whether Narbit may write it.</param>
public sealed record FieldDescription(
    string Name,
    string Label,
    FieldType Type,
    FieldRole Role = FieldRole.None,
    string? List = null,
    string? Unit = null,
    bool Required = false,
    bool Writable = false
)
{
    /// <summary>The most characters it takes, or null.</summary>
    public int? MaxLength { get; init; }

    /// <summary>Whether its system lets its value be taken away; what every record must have cannot be.</summary>
    public bool CanBeEmptied
    {
        get => field && !Required;
        init;
    } = true;

    /// <summary>
    /// Whether it belongs to what stands around the record, a product around its variants, so that sisters have it in common.
    /// </summary>
    public bool Shared { get; init; }
}
