using System.Text;
using System.Text.Json;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>The values of JSON texts, so that two are told apart value by value and line by line.</summary>
public static class JsonLeaves
{
    private static readonly JsonReaderOptions WithComments = new() { CommentHandling = JsonCommentHandling.Skip };

    /// <summary>All values in their order.</summary>
    /// <exception cref="JsonException">It is no JSON.</exception>
    public static IReadOnlyList<JsonLeaf> Of(string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        var reader = new Utf8JsonReader(bytes, WithComments);
        var leaves = new List<JsonLeaf>();
        var lines = new LineCount(bytes);
        reader.Read();
        Take(ref reader, "", lines, leaves);
        return leaves;
    }

    /// <summary>
    /// The line of a place; where it does not stand in the text, that of what it would stand in.
    /// </summary>
    public static int? LineOf(IReadOnlyList<JsonLeaf> leaves, string path)
    {
        for (var at = path; at.Length > 0; at = Around(at))
        {
            foreach (var leaf in leaves)
                if (leaf.Path == at || IsWithin(leaf.Path, at))
                    return leaf.Line;
        }

        return leaves.Count > 0 ? leaves[0].Line : null;
    }

    /// <summary>
    /// What some values have besides others: by the largest thing that the others have nothing of, with all its values in one line. An
    /// empty list or object beside a filled one is nothing.
    /// </summary>
    public static IReadOnlyList<(string Path, string Values)> Besides(IReadOnlyList<JsonLeaf> these, IReadOnlyList<JsonLeaf> others)
    {
        var places = others.SelectMany(o => Places(o.Path)).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. from leaf in these
            where !places.Contains(leaf.Path)
            let whole = Places(leaf.Path).Last(p => !places.Contains(p))
            group leaf by whole into together
            select (together.Key, string.Join(", ", together.Select(l => Within(together.Key, l)))),
        ];
    }

    private static string Within(string whole, JsonLeaf leaf) =>
        leaf.Path == whole ? leaf.Value : $"{leaf.Path[whole.Length..].TrimStart('.')} {leaf.Value}";

    // A place and what is around it.
    private static IEnumerable<string> Places(string path)
    {
        for (var at = path; at.Length > 0; at = Around(at))
            yield return at;
    }

    private static bool IsWithin(string path, string place) =>
        path.Length > place.Length && path[place.Length] is '.' or '[' && path.StartsWith(place, StringComparison.Ordinal);

    private static string Around(string path) => path[..Math.Max(0, path.LastIndexOfAny(['.', '[']))];

    private static void Take(ref Utf8JsonReader reader, string path, LineCount lines, List<JsonLeaf> leaves)
    {
        var line = lines.At(reader.TokenStartIndex);
        var before = leaves.Count;
        switch (reader.TokenType)
        {
            case JsonTokenType.StartObject:
                while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
                {
                    var name = reader.GetString()!;
                    reader.Read();
                    Take(ref reader, path.Length == 0 ? name : $"{path}.{name}", lines, leaves);
                }

                if (leaves.Count == before)
                    leaves.Add(new JsonLeaf(path, "{}", line));
                break;
            case JsonTokenType.StartArray:
                for (var i = 0; reader.Read() && reader.TokenType != JsonTokenType.EndArray; i++)
                    Take(ref reader, $"{path}[{i}]", lines, leaves);
                if (leaves.Count == before)
                    leaves.Add(new JsonLeaf(path, "[]", line));
                break;
            case JsonTokenType.String:
                leaves.Add(new JsonLeaf(path, $"“{reader.GetString()}”", line));
                break;
            default:
                leaves.Add(new JsonLeaf(path, Encoding.UTF8.GetString(reader.ValueSpan), line));
                break;
        }
    }

    // Places are asked for in their order, so that each line is counted once.
    private sealed class LineCount(byte[] bytes)
    {
        private long _at;
        private int _line = 1;

        public int At(long place)
        {
            for (; _at < place; _at++)
                if (bytes[_at] == '\n')
                    _line++;
            return _line;
        }
    }
}
