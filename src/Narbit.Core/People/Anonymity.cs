using Narbit.Core.Records;

namespace Narbit.Core.People;

/// <summary>What of a record tells who somebody is, and the same without it.</summary>
public static class Anonymity
{
    /// <summary>Stands where something about a person was.</summary>
    public const string Mark = "anonymised";

    private static readonly HashSet<FieldRole> Telling =
    [
        FieldRole.Email,
        FieldRole.Phone,
        FieldRole.Account,
        FieldRole.Company,
        FieldRole.Street,
        FieldRole.City,
        FieldRole.Postcode,
        FieldRole.Comment,
        FieldRole.Answer,
    ];

    private static readonly HashSet<ListRole> Addresses = [ListRole.BillTo, ListRole.ShipTo, ListRole.Addresses];

    /// <summary>Whether a field of a record tells who somebody is; a title does where it is a name.</summary>
    /// <param name="field">The field.</param>
    /// <param name="titleIsName">Whether titles are names: of customers and addresses.</param>
    public static bool Tells(FieldDescription field, bool titleIsName) =>
        Telling.Contains(field.Role) || (titleIsName && field.Role == FieldRole.Title);

    /// <summary>A record's values without what tells who somebody is.</summary>
    public static Dictionary<string, string> Of(FieldSet fields, IReadOnlyDictionary<string, string> values, bool titleIsName) =>
        values.ToDictionary(
            v => v.Key,
            v => fields.Named(v.Key) is { } field && Tells(field, titleIsName) ? Mark : v.Value,
            StringComparer.Ordinal
        );

    /// <summary>A record's lists without the names and addresses in them; what was bought stays.</summary>
    public static RecordChildren Of(FieldSet fields, RecordChildren children)
    {
        var lists = new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>>(StringComparer.Ordinal);
        foreach (var name in children.Lists)
            lists[name] =
                fields.Children.FirstOrDefault(c => c.Name == name) is { } list && Addresses.Contains(list.Role)
                    ? [.. children[name].Select(entry => Of(list.Fields, entry, titleIsName: true))]
                    : children[name];
        return new RecordChildren(lists);
    }

    /// <summary>The texts of a record that tell who somebody is.</summary>
    public static IEnumerable<string> TextsOf(FieldSet fields, IReadOnlyDictionary<string, string> values, bool titleIsName) =>
        values.Where(v => fields.Named(v.Key) is { } field && Tells(field, titleIsName) && Identifies(field)).Select(v => v.Value);

    /// <summary>The texts of a record's lists that tell who somebody is.</summary>
    public static IEnumerable<string> TextsOf(FieldSet fields, RecordChildren children) =>
        children.Lists.SelectMany(name =>
            fields.Children.FirstOrDefault(c => c.Name == name) is { } list && Addresses.Contains(list.Role)
                ? children[name].SelectMany(entry => TextsOf(list.Fields, entry, titleIsName: true))
                : []
        );

    // A town or a postcode stands in many other texts and tells of nobody by itself.
    private static bool Identifies(FieldDescription field) => field.Role is not (FieldRole.City or FieldRole.Postcode);
}
