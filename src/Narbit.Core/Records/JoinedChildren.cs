namespace Narbit.Core.Records;

/// <summary>Lists put together of several records' lists, each entry once, in the order in which they came.</summary>
public sealed class JoinedChildren
{
    private readonly Dictionary<string, List<IReadOnlyDictionary<string, string>>> _lists = new(StringComparer.Ordinal);
    private readonly HashSet<(string List, string Entry)> _known = [];

    /// <summary>What was put together.</summary>
    public RecordChildren Made =>
        new(_lists.ToDictionary(l => l.Key, l => (IReadOnlyList<IReadOnlyDictionary<string, string>>)l.Value, StringComparer.Ordinal));

    /// <summary>Adds the entries that are not there yet.</summary>
    public void Add(RecordChildren children)
    {
        foreach (var name in children.Lists)
        foreach (var entry in children[name])
        {
            var said = string.Join('\n', entry.OrderBy(v => v.Key, StringComparer.Ordinal).Select(v => $"{v.Key}={v.Value}"));
            if (!_known.Add((name, said)))
                continue;
            if (!_lists.TryGetValue(name, out var list))
                _lists[name] = list = [];
            list.Add(entry);
        }
    }
}
