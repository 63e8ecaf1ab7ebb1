using System.Text.Json;
using Narbit.Core.Records;

namespace Narbit.Engine.Reading;

/// <summary>The records that a small turn is about. What grows beyond a bound is about everything.</summary>
public sealed class TurnScope
{
    /// <summary>The most records of a small turn.</summary>
    public const int Most = 2000;

    private readonly SortedDictionary<string, SortedSet<string>> _keys;

    private TurnScope(SortedDictionary<string, SortedSet<string>> keys) => _keys = keys;

    /// <summary>How many records there are.</summary>
    public int Count => _keys.Values.Sum(k => k.Count);

    /// <summary>No records yet.</summary>
    public static TurnScope Empty() => new(new SortedDictionary<string, SortedSet<string>>(StringComparer.Ordinal));

    /// <summary>A scope that was kept.</summary>
    public static TurnScope Read(string text)
    {
        var scope = Empty();
        foreach (var (place, keys) in JsonSerializer.Deserialize<Dictionary<string, List<string>>>(text)!)
            scope._keys[place] = new SortedSet<string>(keys, StringComparer.Ordinal);
        return scope;
    }

    /// <summary>The scope as it is kept; null: it has grown too large, so the turn is about everything.</summary>
    public string? Write() => Count > Most ? null : JsonSerializer.Serialize(_keys);

    /// <summary>Adds records.</summary>
    /// <returns>Whether any of them is new.</returns>
    public bool Add(RecordsTouched touched)
    {
        var place = Place(touched.SystemId, touched.Kind);
        if (!_keys.TryGetValue(place, out var keys))
            _keys[place] = keys = new SortedSet<string>(StringComparer.Ordinal);
        var before = keys.Count;
        keys.UnionWith(touched.Keys);
        return keys.Count > before;
    }

    /// <summary>The records of a kind in a system.</summary>
    public IReadOnlyCollection<string> Of(string systemId, RecordKind kind) =>
        _keys.TryGetValue(Place(systemId, kind), out var keys) ? keys : [];

    private static string Place(string systemId, RecordKind kind) => $"{systemId}/{kind}";
}
