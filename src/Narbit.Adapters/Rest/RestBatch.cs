using System.Buffers;
using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>A request that writes several records: what is in it, and what the answer says of each.</summary>
/// <param name="system">The system's name.</param>
/// <param name="resource">The records.</param>
/// <param name="change">The call.</param>
internal abstract class RestBatch(string system, ResourceReader resource, RestCall change)
{
    /// <summary>The most records in one request.</summary>
    public int Size => Change is { Single: false } several ? several.BatchSize : 1;

    public HttpMethod Method { get; } = new(change.Method);

    /// <summary>Whether a request is about one record.</summary>
    public bool IsSingle => Change is not { Single: false };

    /// <summary>
    /// Whether the system makes nothing twice of a request that arrives twice: it honours idempotency keys, or the method says so (RFC
    /// 9110, section 9.2.2) and the request adds nothing to a list.
    /// </summary>
    public bool RepeatsSafely(IReadOnlyList<RecordWrite> writes) =>
        Change?.MakesOnce == true || (Method == HttpMethod.Delete) || (Method == HttpMethod.Put && !writes.Any(Adds));

    private bool Adds(RecordWrite write) => write.Children.Lists.Any(list => Resource.Child(list)?.Document.Adds == true);

    protected ResourceReader Resource { get; } = resource;

    protected string System { get; } = system;

    /// <summary>The call where it has a body; null: all is in its path.</summary>
    protected RestChange? Change { get; } = change as RestChange;

    /// <summary>The path, which names the record where a request is about one.</summary>
    public string Path(RecordWrite first) => new RestBody(change with { Body = null }).Path(first.Key);

    /// <summary>The header with the idempotency key, where there is one.</summary>
    public IEnumerable<(string Name, string Value)> Headers(RecordWrite first) =>
        Change?.IdempotencyHeader is { } name ? [(name, first.IdempotencyKey)] : [];

    /// <summary>How it is asked whether what was begun is done; null: an answer counts at once.</summary>
    public RestLater? Later => Change?.Later;

    /// <summary>Whether a record is only changed as it was read.</summary>
    public virtual bool IfMatch => false;

    /// <summary>Whether the reply leaves open under which key a record was created.</summary>
    public virtual bool AsksForKey(RestReply reply) => false;

    /// <summary>The body. What cannot be written of a record leaves it out and is its answer; the others go on.</summary>
    public ReadOnlyMemory<byte> Body(IReadOnlyList<RecordWrite> writes, out IReadOnlyDictionary<string, WriteAnswer> unwritable)
    {
        var refused = new Dictionary<string, WriteAnswer>(StringComparer.Ordinal);
        unwritable = refused;
        if (Change is null)
            return default;
        var records = new List<ReadOnlyMemory<byte>>(writes.Count);
        foreach (var write in writes)
        {
            var one = new ArrayBufferWriter<byte>();
            if (Unwritable(write, one) is { } why)
                refused[write.Key] = new WriteAnswer(write.Key, WriteFate.Refused, why);
            else
                records.Add(one.WrittenMemory);
        }

        if (!IsSingle)
            return List(Change.Records!, records);
        return records is [var only] ? RestBody.Around(Change, only) : default;
    }

    private static ReadOnlyMemory<byte> List(string name, List<ReadOnlyMemory<byte>> records)
    {
        var body = new ArrayBufferWriter<byte>();
        using var json = new Utf8JsonWriter(body);
        json.WriteStartObject();
        json.WriteStartArray(name);
        foreach (var record in records)
            json.WriteRawValue(record.Span);
        json.WriteEndArray();
        json.WriteEndObject();
        json.Flush();
        return body.WrittenMemory;
    }

    // What says for certain that nothing was done: a clear no, or nothing was sent at all.
    private static readonly HashSet<string> SaysNo = new(StringComparer.Ordinal)
    {
        FaultCodes.Rejected,
        FaultCodes.Conflict,
        FaultCodes.Forbidden,
        "refused",
        "notFound",
        "noToken",
        "grant.needed",
        "grant.lost",
        "write.overtaken",
    };

    /// <summary>
    /// What became of each record where the whole request was answered with a fault. Whatever is no clear no may have been done all the
    /// same: a repetition with its key finds out, or a question for it. Where an earlier attempt may have been done, only a no to what is
    /// asked for counts: whoever lets nobody in, or has the number already, does not say that it was not done before.
    /// </summary>
    /// <param name="fault">The fault.</param>
    /// <param name="inDoubt">Whether an earlier attempt may have been done.</param>
    public static WriteFate FateOf(Reason fault, bool inDoubt) =>
        (inDoubt ? fault.Code == FaultCodes.Rejected : SaysNo.Contains(fault.Code)) ? WriteFate.Refused : WriteFate.Unknown;

    /// <summary>The answer for each record.</summary>
    /// <param name="writes">The records.</param>
    /// <param name="reply">The reply.</param>
    /// <param name="found">The key under which a record that was created has been found, see <see cref="AsksForKey"/>.</param>
    public IReadOnlyList<WriteAnswer> Answers(IReadOnlyList<RecordWrite> writes, RestReply reply, string? found)
    {
        if (IsSingle)
            return [Alone(writes[0], reply, found)];
        var results = Results(Change!.Results!, new JsonAt(ResultName), reply.Root);
        return
        [
            .. writes.Select(w =>
                !results.TryGetValue(NameOf(w), out var result) ? Silent(w)
                : WentWell(result) ? Taken(w, result)
                : Refused(w, Words(result))
            ),
        ];
    }

    /// <summary>Where a result says which record it is about.</summary>
    protected abstract string? ResultName { get; }

    /// <summary>What stands there for a record.</summary>
    protected abstract string NameOf(RecordWrite write);

    /// <summary>The answer for a record of several that went well.</summary>
    protected abstract WriteAnswer Taken(RecordWrite write, JsonElement result);

    /// <summary>The answer for a record that had a request of its own, which went well.</summary>
    protected abstract WriteAnswer Taken(RecordWrite write, RestReply reply, string? found);

    private WriteAnswer Alone(RecordWrite write, RestReply reply, string? found) =>
        Change?.ResultState is null || WentWell(reply.Root) ? Taken(write, reply, found) : Refused(write, Words(reply.Root));

    private bool WentWell(JsonElement result) => new JsonAt(Change!.ResultState).TextIn(result) == Change.ResultOk;

    private string Words(JsonElement result) =>
        new JsonAt(Change!.ResultMessage).TextIn(result) ?? new JsonAt(Change.ResultState).TextIn(result) ?? "refused without a reason";

    /// <summary>Writes one record's object, with its key, values and children.</summary>
    protected abstract void Write(Utf8JsonWriter json, RecordWrite write);

    protected void WriteContent(Utf8JsonWriter json, RecordWrite write)
    {
        NestedFields.Write(json, [.. write.Values.Select(v => (Resource.Reader(v.Key), v.Value))]);
        foreach (var list in write.Children.Lists)
            Resource.Child(list)?.Write(json, write.Children[list]);
    }

    protected static void WriteKey(Utf8JsonWriter json, string name, string key, bool numeric)
    {
        if (numeric)
            json.WriteNumber(name, long.Parse(key, CultureInfo.InvariantCulture));
        else
            json.WriteString(name, key);
    }

    private static Dictionary<string, JsonElement> Results(string path, JsonAt by, JsonElement root)
    {
        var results = new Dictionary<string, JsonElement>(StringComparer.Ordinal);
        if (new JsonAt(path).In(root) is { ValueKind: JsonValueKind.Array } array)
            foreach (var result in array.EnumerateArray())
                if (by.TextIn(result) is { } key)
                    results[key] = result;
        return results;
    }

    private WriteAnswer Silent(RecordWrite write) =>
        new(write.Key, WriteFate.Unknown, new Reason("write.noWord", $"{System} answered the batch, but said nothing of this record."));

    protected static WriteAnswer Refused(RecordWrite write, string words) =>
        new(write.Key, WriteFate.Refused, new Reason("write.refused", words));

    private Reason? Unwritable(RecordWrite write, ArrayBufferWriter<byte> body)
    {
        try
        {
            using var json = new Utf8JsonWriter(body);
            json.WriteStartObject();
            Write(json, write);
            json.WriteEndObject();
            json.Flush();
            return null;
        }
        catch (Exception error) when (error is FormatException or OverflowException or ArgumentException or DivideByZeroException)
        {
            return new Reason(
                "write.unwritable",
                $"{System} cannot be told of this record: {error.Message.TrimEnd('.')}. Look at its key and its amounts."
            );
        }
    }
}

/// <summary>Records that are changed or ended.</summary>
internal sealed class UpdateBatch(string system, ResourceReader resource, bool ends)
    : RestBatch(system, resource, CallOf(system, resource, ends))
{
    private readonly RestWrite _write = WriteOf(system, resource);

    public override bool IfMatch => _write.IfMatch;

    protected override string? ResultName => _write.ResultKey;

    protected override string NameOf(RecordWrite write) => write.Key;

    protected override WriteAnswer Taken(RecordWrite write, JsonElement result) => new(write.Key, WriteFate.Accepted);

    protected override WriteAnswer Taken(RecordWrite write, RestReply reply, string? found) => new(write.Key, WriteFate.Accepted);

    protected override void Write(Utf8JsonWriter json, RecordWrite write)
    {
        if (_write.Key is { } key)
            WriteKey(json, key, write.Key, _write.NumericKey);
        if (_write.IdempotencyKey is { } name)
            json.WriteString(name, write.IdempotencyKey);
        if (write.Act == WriteAct.End)
            json.WriteBoolean(
                _write.End ?? throw new InvalidOperationException($"{Resource.Document.Label} of {System} cannot be ended."),
                true
            );
        WriteContent(json, write);
    }

    private static RestWrite WriteOf(string system, ResourceReader resource) =>
        resource.Document.Write ?? throw new InvalidOperationException($"{resource.Document.Label} of {system} cannot be written.");

    private static RestCall CallOf(string system, ResourceReader resource, bool ends) =>
        ends && WriteOf(system, resource).Ending is { } ending ? ending : WriteOf(system, resource);
}

/// <summary>Records that are created, told apart by their idempotency keys.</summary>
internal sealed class CreateBatch(string system, ResourceReader resource) : RestBatch(system, resource, CallOf(system, resource))
{
    private readonly RestCreate _create = CallOf(system, resource);

    protected override string? ResultName => _create.ResultRequest;

    public override bool AsksForKey(RestReply reply) => IsSingle && KeyIn(reply) is null;

    protected override string NameOf(RecordWrite write) => write.IdempotencyKey;

    protected override WriteAnswer Taken(RecordWrite write, JsonElement result) =>
        new JsonAt(_create.ResultKey).TextIn(result) is { Length: > 0 } key
            ? new WriteAnswer(write.Key, WriteFate.Accepted, NewKey: key)
            : Refused(write, new JsonAt(_create.ResultMessage).TextIn(result) ?? $"{System} refused it without saying why.");

    protected override WriteAnswer Taken(RecordWrite write, RestReply reply, string? found) =>
        (KeyIn(reply) ?? found) is { } key
            ? new WriteAnswer(write.Key, WriteFate.Accepted, NewKey: key)
            : new WriteAnswer(
                write.Key,
                WriteFate.Unknown,
                new Reason("write.noKey", $"{System} took it, but did not say under which key, and does not find it yet.")
            );

    protected override void Write(Utf8JsonWriter json, RecordWrite write)
    {
        if (_create.IdempotencyKey is { } name)
            json.WriteString(name, write.IdempotencyKey);
        if (_create.Parent is { } around && write.Parent is { } parent)
            WriteKey(json, around, parent, _create.NumericParent);
        if (_create.Group is { } group && write.Group is { } of)
            json.WriteString(group, of);
        WriteContent(json, write);
    }

    private string? KeyIn(RestReply reply)
    {
        if (new JsonAt(_create.ResultKey).TextIn(reply.Root) is { Length: > 0 } key)
            return key;
        return _create.KeyInLocation && reply.Location is { Length: > 0 } location
            ? Uri.UnescapeDataString(location.Split('?', '#')[0].TrimEnd('/').Split('/')[^1])
            : null;
    }

    private static RestCreate CallOf(string system, ResourceReader resource) =>
        resource.Document.Create ?? throw new InvalidOperationException($"{resource.Document.Label} of {system} cannot be created.");
}

/// <summary>Writes fields under their names; a name with dots lies within objects, which fields with the same beginning share.</summary>
internal static class NestedFields
{
    public static void Write(Utf8JsonWriter json, IReadOnlyList<(FieldReader Reader, string? Value)> fields) =>
        Write(json, [.. fields.Select(f => new Named(f.Reader.Field.WriteAs!, f.Reader, f.Value))]);

    private static void Write(Utf8JsonWriter json, List<Named> fields)
    {
        foreach (var group in fields.GroupBy(f => f.Name.Split('.')[0], StringComparer.Ordinal))
        {
            foreach (var field in group.Where(f => f.Name == group.Key))
                field.Reader.Write(json, group.Key, field.Value);
            List<Named> inner = [.. group.Where(f => f.Name != group.Key).Select(f => f with { Name = f.Name[(group.Key.Length + 1)..] })];
            if (inner.Count == 0)
                continue;
            json.WriteStartObject(group.Key);
            Write(json, inner);
            json.WriteEndObject();
        }
    }

    private sealed record Named(string Name, FieldReader Reader, string? Value);
}
