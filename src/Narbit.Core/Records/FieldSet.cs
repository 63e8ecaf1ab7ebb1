using System.Globalization;

namespace Narbit.Core.Records;

/// <summary>The fields of one record kind in one system, looked up by what they mean.</summary>
/// <param name="fields">The fields.</param>
/// <param name="children">The lists within such a record; null: it has none.</param>
public sealed class FieldSet(IReadOnlyList<FieldDescription> fields, IReadOnlyList<ChildList>? children = null)
{
    private readonly Dictionary<(FieldRole, string?), FieldDescription> _byRole = fields
        .Where(f => f.Role != FieldRole.None)
        .GroupBy(f => (f.Role, f.List))
        .ToDictionary(g => g.Key, g => g.First());

    /// <summary>All of the fields, in the system's order.</summary>
    public IReadOnlyList<FieldDescription> Fields { get; } = fields;

    /// <summary>The price lists that the system keeps.</summary>
    public IReadOnlyList<string> PriceLists { get; } =
    [.. fields.Where(f => f is { Role: FieldRole.Price, List: not null }).Select(f => f.List!).Distinct(StringComparer.Ordinal)];

    /// <summary>The fields that hold a price, of whichever list.</summary>
    public IReadOnlyList<FieldDescription> Prices { get; } = [.. fields.Where(f => f.Role == FieldRole.Price)];

    /// <summary>The lists within such a record, e.g. an order's lines, in the system's order.</summary>
    public IReadOnlyList<ChildList> Children { get; } = children ?? [];

    /// <summary>What a price rule may pick from: the price lists, and a price of no list in particular by its field's name.</summary>
    public IReadOnlyList<string> PricedBy { get; } =
    [.. fields.Where(f => f.Role == FieldRole.Price).Select(ListOf).Distinct(StringComparer.Ordinal)];

    /// <summary>
    /// The price that everybody pays: the one of no list in particular, or else of the first list; null where there are no prices.
    /// </summary>
    public FieldDescription? RegularPrice => Find(FieldRole.Price) ?? (PriceLists.Count > 0 ? Find(FieldRole.Price, PriceLists[0]) : null);

    /// <summary>The field with a role (and price list), or null.</summary>
    public FieldDescription? Find(FieldRole role, string? list = null) => _byRole.GetValueOrDefault((role, list));

    /// <summary>The price field that <see cref="PricedBy"/> names, or null.</summary>
    public FieldDescription? PriceOf(string? list) => list is null ? null : Prices.FirstOrDefault(f => ListOf(f) == list);

    /// <summary>The field with a name, or null.</summary>
    public FieldDescription? Named(string name) => Fields.FirstOrDefault(f => f.Name == name);

    /// <summary>The record's value in a role as text, or null.</summary>
    public string? Text(IReadOnlyDictionary<string, string> values, FieldRole role, string? list = null) =>
        Find(role, list) is { } field ? values.GetValueOrDefault(field.Name) : null;

    /// <summary>The record's value in a role as a number, or null.</summary>
    public decimal? Number(IReadOnlyDictionary<string, string> values, FieldRole role, string? list = null) =>
        Text(values, role, list) is { } text && decimal.TryParse(text, NumberStyles.Number, CultureInfo.InvariantCulture, out var number)
            ? number
            : null;

    /// <summary>What a price rule calls a price field: its list, or else its name.</summary>
    public static string ListOf(FieldDescription price) => price.List ?? price.Name;

    /// <summary>The record's value in a role as an instant, or null.</summary>
    public DateTimeOffset? Instant(IReadOnlyDictionary<string, string> values, FieldRole role, string? list = null) =>
        Text(values, role, list) is { } text ? DateTimeOffset.Parse(text, CultureInfo.InvariantCulture) : null;
}
