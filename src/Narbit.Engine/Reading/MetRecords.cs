using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>An entry that could not be kept, as it is shown beside the reading.</summary>
/// <param name="Code">Why, see <see cref="UnkeptRecord"/>.</param>
/// <param name="Key">Its key; null: it has none.</param>
/// <param name="Words">Why, in words.</param>
/// <param name="Raw">As the system sent it, or the beginning of it.</param>
/// <param name="Other">The other record with its key; null: there is none.</param>
public sealed record ShownUnkept(string Code, string? Key, string Words, string Raw, string? Other)
{
    private const int LongestShown = 2000;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    /// <summary>Reads what was kept of them; none where nothing was.</summary>
    public static IReadOnlyList<ShownUnkept> Read(string? kept) =>
        kept is null ? [] : JsonSerializer.Deserialize<List<ShownUnkept>>(kept, Json)!;

    /// <summary>As it is shown of an entry.</summary>
    public static ShownUnkept Of(UnkeptRecord unkept) =>
        new(unkept.Code, unkept.Key, unkept.Words, Text(unkept.Raw), unkept.Other.IsEmpty ? null : Text(unkept.Other));

    internal static string Write(IEnumerable<ShownUnkept> unkept) => JsonSerializer.Serialize(unkept, Json);

    private static string Text(ReadOnlyMemory<byte> raw)
    {
        var text = Encoding.UTF8.GetString(raw.Span);
        return text.Length <= LongestShown ? text : text[..LongestShown] + "…";
    }
}

/// <summary>
/// What a reading has met: each key once. A list that shifts while it is read may bring one record twice, as it was and as it is; so keys
/// that were met twice with other content are held back in the next try, and are at fault only where they come twice again.
/// </summary>
/// <param name="offered">The kind that is read.</param>
internal sealed class MetRecords(OfferedKind offered)
{
    private const int Shown = 10;

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private readonly Dictionary<ulong, ulong> _contents = [];
    private readonly HashSet<string> _suspects = new(StringComparer.Ordinal);
    private readonly Dictionary<string, MirrorEntry> _held = new(StringComparer.Ordinal);
    private readonly List<UnkeptRecord> _unkept = [];
    private bool _isLast;
    private bool _newSuspects;

    public OfferedKind Offered => offered;

    /// <summary>Whether records were missed that only another whole reading can say more of.</summary>
    public bool MissesSome { get; set; }

    public IReadOnlyList<UnkeptRecord> Unkept => _unkept;

    /// <summary>Begins another try; which keys are under suspicion is remembered.</summary>
    /// <param name="isLast">Whether it is the last.</param>
    public void Begin(bool isLast)
    {
        (_isLast, _newSuspects, MissesSome) = (isLast, false, false);
        _contents.Clear();
        _held.Clear();
        _unkept.Clear();
    }

    /// <summary>The records of a page that can be kept now.</summary>
    public List<MirrorEntry> Kept(FetchedPage page)
    {
        _unkept.AddRange(page.Unkept);
        var kept = new List<MirrorEntry>(page.Entries.Count);
        foreach (var entry in page.Entries)
            if (_suspects.Contains(entry.Key))
                Hold(entry);
            else if (MayBeKept(entry))
                kept.Add(entry);
        return kept;
    }

    /// <summary>The records that were held back and turned out to be there once; null: there are none.</summary>
    public PiledPages? LastPages(MirrorRead read)
    {
        if (_held.Count == 0 && read.Unkept == _unkept.Count)
            return null;
        var pages = new PiledPages(read, this);
        pages.AddLate([.. _held.Values]);
        return pages;
    }

    /// <summary>Whether the list changed while it was read, so that it is to be read again.</summary>
    public bool IsMoved(MirrorRead read) => !_isLast && (_newSuspects || (read is { Moved: true, Since: null } && offered.Shifts));

    /// <summary>By key: what is wrong with records that cannot be told apart.</summary>
    public IReadOnlyList<(string Key, string Problems)> Troubled =>
        [
            .. _unkept
                .Where(u => u.Key is not null)
                .DistinctBy(u => u.Key)
                .Select(u => (u.Key!, JsonSerializer.Serialize(new[] { new FieldProblem(FieldProblem.OfKey, u.Words) }, Json))),
        ];

    /// <summary>Why a reading is worth nothing; null: it is.</summary>
    public Reason? Useless(MirrorRead read) =>
        read.Unkept > read.Records ? new Reason(_unkept[0].Code, $"{Words(read)} Nothing was taken as gone.") : null;

    /// <summary>What could not be kept, in words.</summary>
    public string Words(MirrorRead read) =>
        $"{read.Unkept:N0} of {read.Unkept + read.Records:N0} {offered.Label} could not be kept: {_unkept[0].Words}. Choose another key in "
        + "the description, or put them right there.";

    /// <summary>The first that could not be kept, JSON; null: all could.</summary>
    public string? FirstUnkept() => _unkept.Count == 0 ? null : ShownUnkept.Write(_unkept.Take(Shown).Select(ShownUnkept.Of));

    private bool MayBeKept(MirrorEntry entry)
    {
        var content = BitConverter.ToUInt64(entry.Hash);
        if (_contents.TryAdd(entry.KeyHash, content) || _contents[entry.KeyHash] == content)
            return true;
        _suspects.Add(entry.Key);
        _newSuspects = true;
        return true;
    }

    private void Hold(MirrorEntry entry)
    {
        if (_unkept.Exists(u => u.Key == entry.Key))
            _unkept.Add(Twice(entry, _unkept.First(u => u.Key == entry.Key).Raw));
        else if (!_held.TryGetValue(entry.Key, out var first))
            _held[entry.Key] = entry;
        else if (!first.Hash.AsSpan().SequenceEqual(entry.Hash))
        {
            _held.Remove(entry.Key);
            _unkept.Add(Twice(first, entry.Raw));
            _unkept.Add(Twice(entry, first.Raw));
        }
    }

    private UnkeptRecord Twice(MirrorEntry entry, ReadOnlyMemory<byte> other) =>
        new(UnkeptRecord.KeyTwice, entry.Key, $"two records of {offered.Label} have the key {entry.Key}", entry.Raw) { Other = other };
}
