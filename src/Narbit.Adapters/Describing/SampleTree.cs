using System.Text.Json;
using Narbit.Adapters.Rest;
using Narbit.Core.Describing;

namespace Narbit.Adapters.Describing;

/// <summary>A list of objects in a sample.</summary>
/// <param name="Path">Where it stands.</param>
/// <param name="Entries">Its entries.</param>
internal sealed record SampleList(string Path, IReadOnlyList<JsonElement> Entries);

/// <summary>Takes a sample apart: its lists of objects, and the fields of their entries.</summary>
internal static class SampleTree
{
    /// <summary>The most entries that are looked at.</summary>
    public const int MostEntries = 100;

    /// <summary>The most fields that are looked at; a record with more has names for keys.</summary>
    public const int MostColumns = 300;

    private const int Deepest = 6;

    /// <summary>The lists of objects that stand at the top or in objects, not those within other lists; the best first.</summary>
    public static List<SampleList> Lists(JsonElement root)
    {
        var lists = new List<SampleList>();
        Search(root, "", 0, lists);
        return [.. lists.OrderByDescending(l => l.Entries.Count * Math.Min(20, Width(l.Entries[0])))];
    }

    /// <summary>The lists of objects within entries.</summary>
    public static List<SampleList> Nested(IReadOnlyList<JsonElement> entries)
    {
        var byPath = new Dictionary<string, List<JsonElement>>(StringComparer.Ordinal);
        foreach (var entry in entries)
        {
            var inner = new List<SampleList>();
            Search(entry, "", 0, inner);
            foreach (var list in inner.Where(l => l.Path.Length > 0))
            {
                if (!byPath.TryGetValue(list.Path, out var all))
                    byPath[list.Path] = all = [];
                all.AddRange(list.Entries);
            }
        }

        return [.. byPath.Select(p => new SampleList(p.Key, p.Value))];
    }

    /// <summary>The fields of records; objects in them are gone into, lists of objects are not.</summary>
    /// <param name="records">The records.</param>
    /// <param name="before">What stands before each path, ^ for fields around the records.</param>
    /// <param name="without">The path that is left out, with all below it.</param>
    public static List<SampleColumn> Columns(IReadOnlyList<JsonElement> records, string before = "", string? without = null)
    {
        var values = new Dictionary<string, SampleValue?[]>(StringComparer.Ordinal);
        for (var i = 0; i < records.Count; i++)
            Walk(records[i], "", 0, (path, value) => Put(path, i, value));
        return [.. values.Select(c => new SampleColumn(before + c.Key, c.Value))];

        void Put(string path, int record, SampleValue value)
        {
            if (path == without)
                return;
            if (!values.TryGetValue(path, out var column))
            {
                if (values.Count == MostColumns)
                    return;
                values[path] = column = new SampleValue?[records.Count];
            }

            column[record] = value;
        }
    }

    private static void Search(JsonElement here, string path, int depth, List<SampleList> lists)
    {
        if (depth > Deepest)
            return;
        if (here.ValueKind == JsonValueKind.Array)
        {
            List<JsonElement> objects = [.. here.EnumerateArray().Where(e => e.ValueKind == JsonValueKind.Object).Take(MostEntries)];
            if (objects.Count > 0)
                lists.Add(new SampleList(path, objects));
        }
        else if (here.ValueKind == JsonValueKind.Object)
            foreach (var property in here.EnumerateObject())
                Search(property.Value, Join(path, property.Name), depth + 1, lists);
    }

    private static void Walk(JsonElement here, string path, int depth, Action<string, SampleValue> put)
    {
        switch (here.ValueKind)
        {
            case JsonValueKind.Object when depth <= Deepest:
                foreach (var property in here.EnumerateObject())
                    Walk(property.Value, Join(path, property.Name), depth + 1, put);
                break;
            case JsonValueKind.String:
                put(path, new SampleValue(SampleForm.Text, here.GetString()!));
                break;
            case JsonValueKind.Number:
                put(path, new SampleValue(SampleForm.Number, here.GetRawText()));
                break;
            case JsonValueKind.True or JsonValueKind.False:
                put(path, new SampleValue(SampleForm.Truth, here.GetRawText()));
                break;
            case JsonValueKind.Array when here.EnumerateArray().All(e => e.ValueKind is JsonValueKind.String or JsonValueKind.Number):
                var first = here.EnumerateArray().Select(JsonAt.Text).FirstOrDefault();
                if (first is not null)
                    put(path, new SampleValue(SampleForm.List, first));
                break;
        }
    }

    private static int Width(JsonElement entry) => entry.EnumerateObject().Count();

    private static string Join(string path, string name) => path.Length == 0 ? name : $"{path}.{name}";
}
