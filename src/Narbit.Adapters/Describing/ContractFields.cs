using System.Text.Json.Nodes;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>The fields that a schema of a contract has, as far down as objects go.</summary>
internal sealed class ContractFields(Contract contract)
{
    private const int Deepest = 3;
    private const int MostLooked = 500_000;

    // Of types that a field may have, as a list.
    private const int MostTypes = 8;

    private int _looked;
    private readonly Dictionary<JsonObject, Dictionary<string, JsonNode?>> _properties = [];
    private readonly Dictionary<JsonObject, List<SampleColumn>> _columns = [];

    /// <summary>
    /// Whether the schemas stand for more than is looked at, so that no list of theirs is whole: in a few kilobytes each of a thousand
    /// names may stand for a thousand others.
    /// </summary>
    public bool IsTooMuch => _looked > MostLooked;

    private bool Look(int many = 1)
    {
        _looked = Math.Min(_looked, MostLooked) + many;
        return !IsTooMuch;
    }

    /// <summary>The list of objects in a schema: where it stands, and the schema of its entries; null: there is none.</summary>
    public (string Path, JsonObject Entry)? List(JsonObject? schema) =>
        Lists(schema, "", 0).OrderBy(l => l.Path.Count(c => c == '.')).FirstOrNull();

    /// <summary>The lists of objects within entries.</summary>
    public List<(string Path, JsonObject Entry)> Nested(JsonObject entry) => [.. Lists(entry, "", 0).Where(l => l.Path.Length > 0)];

    /// <summary>The object that a reply is, or has under a single name: its path.</summary>
    public string? Single(JsonObject? schema, IReadOnlyCollection<string> names)
    {
        if (schema is null)
            return null;
        var own = Properties(schema);
        if (names.Count(own.ContainsKey) * 2 >= names.Count)
            return "";
        foreach (var (name, inner) in own)
        {
            if (!Look(names.Count))
                return null;
            if (contract.Resolve(inner) is { } held && names.Count(Properties(held).ContainsKey) * 2 >= names.Count)
                return name;
        }

        return null;
    }

    /// <summary>The fields, by path.</summary>
    public List<SampleColumn> Columns(JsonObject schema, string before = "")
    {
        if (!_columns.TryGetValue(schema, out var columns))
        {
            _columns[schema] = columns = [];
            Walk(schema, "", 0, [], columns);
        }

        return before.Length == 0 ? columns : columns.ConvertAll(c => c with { Path = before + c.Path });
    }

    /// <summary>The paths that can be written: those of a request, but for what is only read.</summary>
    public HashSet<string> Writable(JsonObject? request)
    {
        if (request is null)
            return [];
        var writable = new HashSet<string>(StringComparer.Ordinal);
        Collect(request, "", 0, [], writable);
        return writable;
    }

    private void Collect(JsonObject schema, string path, int depth, HashSet<JsonObject> around, HashSet<string> writable)
    {
        if (depth > Deepest || !around.Add(schema))
            return;
        foreach (var (name, property) in Properties(schema))
        {
            if (!Look())
                return;
            if (contract.Resolve(property) is not { } held || Contract.IsTrue(held["readOnly"]))
                continue;
            var here = path.Length == 0 ? name : $"{path}.{name}";
            if (Properties(held).Count > 0)
                Collect(held, here, depth + 1, around, writable);
            else
                writable.Add(here);
        }

        around.Remove(schema);
    }

    private void Walk(JsonObject schema, string path, int depth, HashSet<JsonObject> around, List<SampleColumn> columns)
    {
        // A schema within itself (a product that replaces a product) is gone into once.
        if (depth > Deepest || columns.Count >= SampleTree.MostColumns || !around.Add(schema))
            return;
        var required = Required(schema);
        foreach (var (name, property) in Properties(schema))
        {
            if (!Look())
                return;
            if (contract.Resolve(property) is not { } held)
                continue;
            var here = path.Length == 0 ? name : $"{path}.{name}";
            if (Properties(held).Count > 0)
                Walk(held, here, depth + 1, around, columns);
            else if (Type(held) is { } type)
                columns.Add(
                    new SampleColumn(here, [])
                    {
                        Declared = type,
                        Required = required.Contains(name),
                        MaxLength = held["maxLength"] is JsonValue most && most.TryGetValue<int>(out var length) ? length : null,
                    }
                );
        }

        around.Remove(schema);
    }

    private HashSet<string?> Required(JsonObject schema) =>
        schema["required"] is JsonArray required && Look(required.Count) ? required.Select(Contract.Text).ToHashSet() : [];

    private FieldType? Type(JsonObject schema) =>
        Word(schema) switch
        {
            "boolean" => FieldType.Boolean,
            "integer" => FieldType.Integer,
            "number" => FieldType.Decimal,
            "array" => Word(contract.Resolve(schema["items"]) ?? []) is "object" ? null : FieldType.List,
            "object" => null,
            _ => Contract.Text(schema["format"]) switch
            {
                "date-time" => FieldType.Instant,
                "date" => FieldType.Date,
                "html" => FieldType.Html,
                _ => FieldType.Text,
            },
        };

    // In 3.1 a type may be a list with null in it.
    private static string? Word(JsonObject schema) =>
        schema["type"] switch
        {
            JsonArray several => several.Take(MostTypes).Select(Contract.Text).FirstOrDefault(t => t != "null"),
            var one => Contract.Text(one) ?? (schema["properties"] is JsonObject ? "object" : null),
        };

    private Dictionary<string, JsonNode?> Properties(JsonObject schema)
    {
        if (_properties.TryGetValue(schema, out var known))
            return known;
        var properties = new Dictionary<string, JsonNode?>(StringComparer.Ordinal);
        Gather(schema, properties, 0);
        return _properties[schema] = properties;
    }

    private void Gather(JsonObject schema, Dictionary<string, JsonNode?> properties, int depth)
    {
        if (depth > Deepest)
            return;
        if (schema["properties"] is JsonObject own)
            foreach (var (name, value) in own.TakeWhile(_ => Look()))
                properties[name] = value;
        foreach (var parts in new[] { schema["allOf"], schema["oneOf"], schema["anyOf"] }.OfType<JsonArray>())
        foreach (var part in parts.TakeWhile(_ => Look()))
            if (contract.Resolve(part) is { } held)
                Gather(held, properties, depth + 1);
    }

    private IEnumerable<(string Path, JsonObject Entry)> Lists(JsonObject? schema, string path, int depth)
    {
        if (schema is null || depth > Deepest)
            yield break;
        if (Word(schema) == "array")
        {
            if (contract.Resolve(schema["items"]) is { } entry && Properties(entry).Count > 0)
                yield return (path, entry);
            yield break;
        }

        foreach (var (name, property) in Properties(schema).TakeWhile(_ => Look()))
        foreach (var found in Lists(contract.Resolve(property), path.Length == 0 ? name : $"{path}.{name}", depth + 1))
            yield return found;
    }
}

internal static class FirstOrNothing
{
    /// <summary>The first, or null where there is none.</summary>
    public static T? FirstOrNull<T>(this IEnumerable<T> all)
        where T : struct
    {
        foreach (var one in all)
            return one;
        return null;
    }
}
