using System.Collections;
using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Records;

namespace Narbit.Cli;

/// <summary>A row as a record's values: text is made of a cell only when somebody asks for it.</summary>
internal sealed class RowValues : IReadOnlyDictionary<string, string>
{
    private readonly CsvBytes _table;
    private readonly Dictionary<string, (int Column, FieldDescription Field)> _fields;
    private CsvBytes.Cell[] _cells = [];

    public RowValues(CsvBytes table, FieldSet fields)
    {
        _table = table;
        var columns = table
            .Columns.Select((c, i) => (c, i))
            .GroupBy(x => x.c, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.First().i, StringComparer.Ordinal);
        _fields = fields
            .Fields.Where(f => columns.ContainsKey(f.Name))
            .ToDictionary(f => f.Name, f => (columns[f.Name], f), StringComparer.Ordinal);
    }

    public int Count => _fields.Count;

    public IEnumerable<string> Keys => _fields.Keys.Where(ContainsKey);

    public IEnumerable<string> Values => Keys.Select(k => this[k]);

    public string this[string key] => TryGetValue(key, out var value) ? value : throw new KeyNotFoundException(key);

    /// <summary>Looks at another row; no cells: at none.</summary>
    public void Take(CsvBytes.Cell[] cells) => _cells = cells;

    /// <summary>The same values for as long as wanted.</summary>
    public Dictionary<string, string> Copy() => Keys.ToDictionary(k => k, k => this[k], StringComparer.Ordinal);

    /// <summary>What stands in a typed field and is not of its type, in words; null: nothing.</summary>
    public string? Problem(IEnumerable<string> fields)
    {
        foreach (var name in fields)
            if (
                _fields.TryGetValue(name, out var f)
                && f.Field.Type != FieldType.Text
                && Raw(f.Column) is { } raw
                && Canonical(f.Field.Type, raw) is null
            )
                return $"{f.Field.Label} is the text “{raw}”, where {Shapes.Of(f.Field.Type).Words()} was expected";
        return null;
    }

    public bool ContainsKey(string key) => TryGetValue(key, out _);

    public bool TryGetValue(string key, [MaybeNullWhen(false)] out string value)
    {
        value = _fields.TryGetValue(key, out var f) && Raw(f.Column) is { } raw ? Canonical(f.Field.Type, raw) : null;
        return value is not null;
    }

    public IEnumerator<KeyValuePair<string, string>> GetEnumerator() => Keys.Select(k => KeyValuePair.Create(k, this[k])).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    private string? Raw(int column) => column < _cells.Length ? _table.Text(_cells[column]) : null;

    private static string? Canonical(FieldType type, string raw) =>
        Shapes.Of(type) switch
        {
            Shape.Number => decimal.TryParse(
                raw,
                NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint,
                CultureInfo.InvariantCulture,
                out var number
            )
                ? Numbers.Plain(number)
                : null,
            Shape.Truth => raw.ToLowerInvariant() switch
            {
                "true" or "yes" or "1" => "true",
                "false" or "no" or "0" => "false",
                _ => null,
            },
            Shape.Instant => DateTimeOffset.TryParse(raw, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
                ? at.ToUniversalTime().ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture)
                : null,
            Shape.Day => DateOnly.TryParse(raw, CultureInfo.InvariantCulture, out var day)
                ? day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                : null,
            Shape.List => raw.StartsWith('[')
                ? raw
                : MapValue.Write(raw.Split('|', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)),
            _ => raw,
        };
}
