using System.Buffers;
using System.Runtime.InteropServices;
using System.Text.Json;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>Reads the records of one kind from a system's replies. Its description is taken apart once.</summary>
internal sealed class ResourceReader(RestResource document)
{
    private readonly FieldReader[] _readers = [.. document.Fields.Select(f => new FieldReader(f))];
    private readonly ChildReader[] _children = [.. document.Children.Select(c => new ChildReader(c))];
    private readonly JsonAt _key = new(document.Key);
    private readonly JsonAt _parent = new(document.Parent);
    private readonly JsonAt _group = new(document.Group);
    private readonly JsonAt _each = new(document.List.Each);
    private readonly JsonAt _aroundRecords = new(string.Join('.', (document.List.Records ?? "").Split('.')[..^1]));

    public RestResource Document { get; } = document;

    public FieldSet Fields { get; } =
        new(
            [.. document.Fields.Select(f => f.Describe())],
            [
                .. document.Children.Select(c => new ChildList(
                    c.Name,
                    c.Label ?? c.Name,
                    new FieldSet([.. c.Fields.Select(f => f.Describe())]),
                    c.WriteAs is not null,
                    c.Role
                )
                {
                    Adds = c.Adds,
                }),
            ]
        );

    public JsonAt Records { get; } = new(document.List.Records);

    /// <summary>The key of an entry that is a record; null: it has none.</summary>
    public string? KeyOf(JsonElement entry) => KeyOf(entry, entry);

    private string? KeyOf(JsonElement record, JsonElement parent)
    {
        try
        {
            return _key.TextIn(record, parent) is { Length: > 0 } key ? key : null;
        }
        catch (FormatException)
        {
            return null;
        }
    }

    public FieldReader Reader(string field) => _readers.First(r => r.Field.Name == field);

    public ChildReader? Child(string list) => Array.Find(_children, c => c.Document.Name == list);

    /// <summary>
    /// The entries of a list; null: there is none. XML has no lists: what stands there once is one entry, and what does not stand there is
    /// none, if what should be around it does.
    /// </summary>
    public List<JsonElement>? Entries(JsonElement root, ReplyForm form)
    {
        if (form == ReplyForm.Xml)
            return Entries(Records, root) ?? (_aroundRecords.In(root) is null ? null : []);
        return Records.In(root) is { ValueKind: JsonValueKind.Array } list ? [.. list.EnumerateArray()] : null;
    }

    /// <summary>The entries at a place: a list there, or a single one; null: nothing stands there.</summary>
    public static List<JsonElement>? Entries(JsonAt at, JsonElement root) =>
        at.In(root) switch
        {
            { ValueKind: JsonValueKind.Array } list => [.. list.EnumerateArray()],
            { ValueKind: JsonValueKind.Object } single => [single],
            _ => null,
        };

    /// <summary>Every record that the entries of a list hold.</summary>
    public ReadEntries Read(List<JsonElement> entries)
    {
        var read = new ReadEntries(Document);
        foreach (var entry in entries)
        {
            if (Document.List.Each is null)
            {
                Add(read, entry, entry, null);
                continue;
            }

            // What stands around several records is the same for all of them.
            var around = new Lazy<ReadOnlyMemory<byte>>(() => Around(entry));
            foreach (var inner in _each.AllIn(entry))
                Add(read, inner, entry, around);
        }

        return read;
    }

    // What cannot be read of one record is its own fault; the others go on.
    private void Add(ReadEntries read, JsonElement record, JsonElement parent, Lazy<ReadOnlyMemory<byte>>? around)
    {
        var raw = JsonMarshal.GetRawUtf8Value(record).ToArray();
        try
        {
            if (One(record, parent) is { } one)
                read.Add(one with { Raw = raw, RawParent = one.Parent is null || around is null ? default : around.Value });
            else
                read.AddKeyless(raw);
        }
        catch (Exception error) when (error is FormatException or InvalidOperationException or OverflowException or ArgumentException)
        {
            read.AddUnreadable(KeyOf(record, parent), error, raw);
        }
    }

    /// <summary>A record of its own, without its raw form; null: it has no key.</summary>
    public ReadRecord? Understand(JsonElement record, JsonElement parent) => One(record, parent);

    private ReadRecord? One(JsonElement record, JsonElement parent)
    {
        if (KeyOf(record, parent) is not { } key)
            return null;
        List<FieldProblem>? problems = null;
        var values = FieldReader.Values(_readers, record, parent, ref problems);
        var children = Children(record, ref problems);
        return new ReadRecord(
            key,
            _parent.TextIn(record, parent),
            values,
            ReadOnlyMemory<byte>.Empty,
            problems ?? (IReadOnlyList<FieldProblem>)[]
        )
        {
            Group = _group.TextIn(record, parent),
            Children = children,
        };
    }

    private RecordChildren Children(JsonElement record, ref List<FieldProblem>? problems)
    {
        if (_children.Length == 0)
            return RecordChildren.None;
        var lists = new Dictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>>(StringComparer.Ordinal);
        foreach (var child in _children)
            lists[child.Document.Name] = child.Read(record, ref problems);
        return new RecordChildren(lists);
    }

    // A value that is no valid text is left out of what is kept.
    private static void Write(Utf8JsonWriter json, JsonProperty property)
    {
        try
        {
            json.WritePropertyName(property.Name);
            json.WriteRawValue(JsonMarshal.GetRawUtf8Value(property.Value));
        }
        catch (InvalidOperationException)
        {
            // Its name cannot be read, so that nobody asks for it.
        }
    }

    // The entry without the records nested in it.
    private ReadOnlyMemory<byte> Around(JsonElement entry)
    {
        var buffer = new ArrayBufferWriter<byte>(512);
        using var json = new Utf8JsonWriter(buffer);
        json.WriteStartObject();
        foreach (var property in entry.EnumerateObject().Where(p => !p.NameEquals(Document.List.Each!)))
            Write(json, property);
        json.WriteEndObject();
        json.Flush();
        return buffer.WrittenMemory.ToArray();
    }
}

/// <summary>What the entries of a list hold, each record by its key.</summary>
/// <param name="document">What they are described as.</param>
internal sealed class ReadEntries(RestResource document)
{
    private readonly OrderedDictionary<string, ReadRecord> _records = new(StringComparer.Ordinal);
    private readonly List<UnkeptRecord> _unkept = [];
    private readonly HashSet<string> _twice = new(StringComparer.Ordinal);

    /// <summary>The records that can be kept.</summary>
    public IReadOnlyList<ReadRecord> Records => [.. _records.Values];

    /// <summary>The others.</summary>
    public IReadOnlyList<UnkeptRecord> Unkept => _unkept;

    /// <summary>The key of the last record, whatever became of it.</summary>
    public string? LastKey { get; private set; }

    public void Add(ReadRecord record)
    {
        LastKey = record.Key;
        if (_twice.Contains(record.Key))
            AddTwice(record, _unkept.First(u => u.Key == record.Key).Raw);
        else if (!_records.TryGetValue(record.Key, out var first))
            _records[record.Key] = record;
        else if (!first.Raw.Span.SequenceEqual(record.Raw.Span))
        {
            _records.Remove(record.Key);
            _twice.Add(record.Key);
            AddTwice(first, record.Raw);
            AddTwice(record, first.Raw);
        }
    }

    public void AddKeyless(ReadOnlyMemory<byte> raw) =>
        _unkept.Add(
            new UnkeptRecord(
                UnkeptRecord.NoKey,
                null,
                $"a record of {document.Label} has no “{document.Key}”, which its description names as the key",
                raw
            )
        );

    public void AddUnreadable(string? key, Exception error, ReadOnlyMemory<byte> raw) =>
        _unkept.Add(
            new UnkeptRecord(
                UnkeptRecord.Unreadable,
                key,
                $"{(key is null ? "a record" : $"the record {key}")} of {document.Label} cannot be read: {error.Message.TrimEnd('.')}",
                raw
            )
        );

    private void AddTwice(ReadRecord record, ReadOnlyMemory<byte> other) =>
        _unkept.Add(Twice(document.Label, document.Key, record.Key, record.Raw) with { Other = other });

    /// <summary>A record whose key another has.</summary>
    public static UnkeptRecord Twice(string label, string named, string key, ReadOnlyMemory<byte> raw) =>
        new(UnkeptRecord.KeyTwice, key, $"two records of {label} have the “{named}” {key}, which their description names as the key", raw);
}

/// <summary>Reads a list within a record, and writes it.</summary>
internal sealed class ChildReader(RestChildren document)
{
    private readonly JsonAt _at = new(document.Path);
    private readonly JsonAt _each = new(document.Each);
    private readonly FieldReader[] _readers = [.. document.Fields.Select(f => new FieldReader(f))];

    public RestChildren Document { get; } = document;

    /// <summary>The entries' values, in order; what cannot be read of one is said with its place.</summary>
    public IReadOnlyList<IReadOnlyDictionary<string, string>> Read(JsonElement record, ref List<FieldProblem>? problems)
    {
        if (_at.In(record) is not { } found)
            return [];
        if (found.ValueKind == JsonValueKind.Null)
            return [];
        if (found.ValueKind is not (JsonValueKind.Array or JsonValueKind.Object))
        {
            (problems ??= []).Add(new FieldProblem(Document.Name, $"{Label} is no list"));
            return [];
        }

        var entries = new List<IReadOnlyDictionary<string, string>>();
        foreach (var (entry, around) in Entries(record))
        {
            List<FieldProblem>? own = null;
            entries.Add(FieldReader.Values(_readers, entry, around, ref own));
            foreach (var problem in own ?? [])
                (problems ??= []).Add(
                    new FieldProblem(
                        $"{Document.Name}[{entries.Count - 1}].{problem.Field}",
                        $"{Label}, entry {entries.Count}: {problem.Message}"
                    )
                );
        }

        return entries;
    }

    // Each entry with what stands around it: the record, or the entry that it is nested in.
    private IEnumerable<(JsonElement Entry, JsonElement Around)> Entries(JsonElement record) =>
        Document.Each is null
            ? _at.AllIn(record).Select(entry => (entry, record))
            : _at.AllIn(record).SelectMany(outer => _each.AllIn(outer).Select(entry => (entry, outer)));

    /// <summary>Writes the entries as the system wants them.</summary>
    public void Write(Utf8JsonWriter json, IReadOnlyList<IReadOnlyDictionary<string, string>> entries)
    {
        if (Document.WriteAs is not { } name)
            return;
        if (Document.Single)
        {
            json.WritePropertyName(name);
            if (entries.Count == 0)
                json.WriteNullValue();
            else
                Write(json, entries[0]);
            return;
        }

        json.WriteStartArray(name);
        foreach (var entry in entries)
            Write(json, entry);
        json.WriteEndArray();
    }

    private void Write(Utf8JsonWriter json, IReadOnlyDictionary<string, string> entry)
    {
        json.WriteStartObject();
        foreach (var reader in _readers)
            if (reader.Field.WriteAs is not null && entry.TryGetValue(reader.Field.Name, out var value))
                reader.Write(json, reader.Field.WriteAs!, value);
        json.WriteEndObject();
    }

    private string Label => Document.Label ?? Document.Name;
}
