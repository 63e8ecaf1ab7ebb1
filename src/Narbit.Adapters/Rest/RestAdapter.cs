using System.Buffers;
using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Talks to any REST system that a <see cref="RestDocument"/> describes. Safe to use from several threads; the rate holds for all of them
/// together.
/// </summary>
public sealed class RestAdapter : IAdapter, IDisposable
{
    private readonly RestDocument _document;
    private readonly RestTransport _transport;
    private readonly Dictionary<RecordKind, Resource> _resources;

    /// <summary>An adapter for a system.</summary>
    /// <param name="document">The description.</param>
    /// <param name="address">The system's address, already checked.</param>
    /// <param name="credential">How to sign in, or null.</param>
    /// <param name="outbound">Which addresses may be connected to.</param>
    /// <param name="clock">The time, for waiting.</param>
    public RestAdapter(RestDocument document, Uri address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
    {
        _document = document;
        _transport = new RestTransport(document, address, credential, outbound, clock);
        _resources = document.Resources.ToDictionary(r => r.Kind, r => new Resource(r));
        Kinds =
        [
            .. _resources.Values.Select(r => new OfferedKind(
                r.Document.Kind,
                r.Document.Label,
                r.Fields,
                r.Document.Write?.BatchSize ?? 0,
                r.Document.Create is not null,
                r.Document.Write?.End is not null
            )),
        ];
    }

    /// <inheritdoc/>
    public IReadOnlyList<OfferedKind> Kinds { get; }

    /// <inheritdoc/>
    public void Dispose() => _transport.Dispose();

    /// <inheritdoc/>
    public bool ReadsChanges(RecordKind kind) => _resources[kind].Document.List.ChangedSince is not null;

    /// <inheritdoc/>
    public async Task<TestAnswer> TestAsync(CancellationToken cancel)
    {
        var watch = Stopwatch.StartNew();
        var probe = await _transport.SendAsync(HttpMethod.Get, _document.Test.Path, default, attempts: 2, repeatUnanswered: true, cancel);
        var milliseconds = (int)watch.ElapsedMilliseconds;
        if (probe.Fault is { } fault)
            return new TestAnswer(false, fault.Message, milliseconds);
        string? name;
        using (probe.Value)
            name = new JsonAt(_document.Test.NamePath).TextIn(probe.Value.RootElement);

        var found = new List<string>();
        foreach (var resource in _resources.Values)
        {
            var page = await ReadPageAsync(resource.Document.Kind, null, null, cancel);
            if (page.Fault is { } broken)
                return new TestAnswer(
                    false,
                    $"It answers, but its {resource.Document.Label} cannot be read. {broken.Message}",
                    milliseconds
                );
            var problem = page.Value.Records.SelectMany(r => r.Problems.Select(p => (r.Key, p.Message))).FirstOrDefault();
            var troubled = page.Value.Records.Count(r => r.Problems.Count > 0);
            found.Add(
                troubled == 0
                    ? $"{resource.Document.Label}: {page.Value.Records.Count} read, all as described"
                    : $"{resource.Document.Label}: {page.Value.Records.Count} read, {troubled} not as described (first "
                        + $"{problem.Key}: {problem.Message})"
            );
        }

        return new TestAnswer(
            true,
            $"Answered in {milliseconds} ms{(name is null ? "" : $" as “{name}”")}. {string.Join(". ", found)}.",
            milliseconds
        );
    }

    /// <inheritdoc/>
    public async Task<Outcome<RecordPage>> ReadPageAsync(
        RecordKind kind,
        string? cursor,
        DateTimeOffset? changedSince,
        CancellationToken cancel
    )
    {
        var resource = _resources[kind];
        var list = resource.Document.List;
        var query = new List<string>();
        if (list.SizeParameter is { } size)
            query.Add($"{size}={list.Size}");
        var page = cursor ?? (list.Paging == RestPaging.Page ? "1" : null);
        if (page is not null && list.PageParameter is { } parameter)
            query.Add($"{parameter}={Uri.EscapeDataString(page)}");
        if (changedSince is { } since && list.ChangedSince is { } changed)
            query.Add(
                $"{changed}={Uri.EscapeDataString(since.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture))}"
            );

        var reply = await _transport.SendAsync(
            HttpMethod.Get,
            With(list.Path, query),
            default,
            _document.Limits.Attempts,
            repeatUnanswered: true,
            cancel
        );
        if (reply.Fault is { } fault)
            return fault;
        using var json = reply.Value;
        if (resource.Records.In(json.RootElement) is not { ValueKind: JsonValueKind.Array } array)
            return new Fault(
                "noList",
                $"{_document.Name} answered, but without the list “{list.Records}” that its description names for "
                    + $"{resource.Document.Label}."
            );

        var records = resource.Read(array);
        if (records.Fault is { } unreadable)
            return new Fault(unreadable.Code, $"{_document.Name}: {unreadable.Message}");
        var listed = array.GetArrayLength();
        var total =
            resource.Total.TextIn(json.RootElement) is { } text && int.TryParse(text, CultureInfo.InvariantCulture, out var number)
                ? number
                : (int?)null;
        return new RecordPage(records.Value, Next(resource, json.RootElement, page, listed), listed, total);
    }

    /// <inheritdoc/>
    public async Task<Outcome<IReadOnlyList<ReadRecord>>> LookUpAsync(
        RecordKind kind,
        IReadOnlyCollection<string> keys,
        CancellationToken cancel
    )
    {
        var resource = _resources[kind];
        if (resource.Document.Lookup is not { } lookup)
            return new Fault("noLookup", $"{_document.Name} has no way to look {resource.Document.Label} up by key.");
        var found = new List<ReadRecord>(keys.Count);
        foreach (var some in keys.Chunk(lookup.Size))
        {
            var path = With(lookup.Path, [$"{lookup.Parameter}={string.Join(',', some.Select(Uri.EscapeDataString))}"]);
            var reply = await _transport.SendAsync(
                HttpMethod.Get,
                path,
                default,
                _document.Limits.Attempts,
                repeatUnanswered: true,
                cancel
            );
            if (reply.Fault is { } fault)
                return fault;
            using var json = reply.Value;
            if (resource.Records.In(json.RootElement) is not { ValueKind: JsonValueKind.Array } array)
                return new Fault("noList", $"{_document.Name} answered a look-up without the list “{resource.Document.List.Records}”.");
            var records = resource.Read(array);
            if (records.Fault is { } unreadable)
                return unreadable;
            found.AddRange(records.Value);
        }

        return found;
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<WriteAnswer>> WriteAsync(RecordKind kind, IReadOnlyList<RecordWrite> writes, CancellationToken cancel)
    {
        var resource = _resources[kind];
        var write =
            resource.Document.Write
            ?? throw new InvalidOperationException($"{resource.Document.Label} of {_document.Name} cannot be written.");
        var create = writes is [{ Act: WriteAct.Create }, ..]
            ? resource.Document.Create
                ?? throw new InvalidOperationException($"{resource.Document.Label} of {_document.Name} cannot be created.")
            : null;
        if (create is not null && writes.Count > create.BatchSize)
            return
            [
                .. (await Task.WhenAll(writes.Chunk(create.BatchSize).Select(some => WriteAsync(kind, some, cancel)))).SelectMany(a => a),
            ];
        var body = create is null ? Body(resource, write, writes) : Body(resource, create, writes);
        // A batch that fails is taken apart below, so only a single record is worth all attempts.
        var attempts = writes.Count > 1 ? Math.Min(3, _document.Limits.Attempts) : _document.Limits.Attempts;
        var reply = await _transport.SendAsync(
            new HttpMethod(create?.Method ?? write.Method),
            create?.Path ?? write.Path,
            body,
            attempts,
            create is not null || write.IdempotencyKey is not null,
            cancel
        );
        if (reply.Fault is { } fault)
        {
            if (fault.Code is "serverError" or "rejected" && writes.Count > 1)
            {
                var half = writes.Count / 2;
                return
                [
                    .. await WriteAsync(kind, [.. writes.Take(half)], cancel),
                    .. await WriteAsync(kind, [.. writes.Skip(half)], cancel),
                ];
            }

            var fate = fault.Code is "timeout" or "broken" or "halfReply" or "unreachable" or "tooMany"
                ? WriteFate.Unknown
                : WriteFate.Refused;
            return [.. writes.Select(w => new WriteAnswer(w.Key, fate, fault.Message))];
        }

        using var json = reply.Value;
        return create is null ? Answers(write, writes, json.RootElement) : Answers(create, writes, json.RootElement);
    }

    private static ReadOnlyMemory<byte> Body(Resource resource, RestWrite write, IReadOnlyList<RecordWrite> writes)
    {
        var body = new ArrayBufferWriter<byte>();
        using var json = new Utf8JsonWriter(body);
        json.WriteStartObject();
        json.WriteStartArray(write.Records);
        foreach (var one in writes)
        {
            json.WriteStartObject();
            if (write.NumericKey)
                json.WriteNumber(write.Key, long.Parse(one.Key, CultureInfo.InvariantCulture));
            else
                json.WriteString(write.Key, one.Key);
            if (write.IdempotencyKey is { } name)
                json.WriteString(name, one.IdempotencyKey);
            if (one.Act == WriteAct.End)
                json.WriteBoolean(write.End ?? throw new InvalidOperationException($"{resource.Document.Label} cannot be ended."), true);
            foreach (var (field, value) in one.Values)
                resource.Reader(field).Write(json, value);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
        json.Flush();
        return body.WrittenMemory;
    }

    private static ReadOnlyMemory<byte> Body(Resource resource, RestCreate create, IReadOnlyList<RecordWrite> writes)
    {
        var body = new ArrayBufferWriter<byte>();
        using var json = new Utf8JsonWriter(body);
        json.WriteStartObject();
        json.WriteStartArray(create.Records);
        foreach (var one in writes)
        {
            json.WriteStartObject();
            json.WriteString(create.IdempotencyKey, one.IdempotencyKey);
            if (create.Parent is { } name && one.Parent is { } parent)
            {
                if (create.NumericParent)
                    json.WriteNumber(name, long.Parse(parent, CultureInfo.InvariantCulture));
                else
                    json.WriteString(name, parent);
            }

            if (create.Group is { } group && one.Group is { } of)
                json.WriteString(group, of);
            foreach (var (field, value) in one.Values)
                resource.Reader(field).Write(json, value);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
        json.Flush();
        return body.WrittenMemory;
    }

    private List<WriteAnswer> Answers(RestCreate create, IReadOnlyList<RecordWrite> writes, JsonElement root)
    {
        var (requestAt, keyAt, stateAt, messageAt) = (
            new JsonAt(create.ResultRequest),
            new JsonAt(create.ResultKey),
            new JsonAt(create.ResultState),
            new JsonAt(create.ResultMessage)
        );
        var results = new Dictionary<string, JsonElement>(StringComparer.Ordinal);
        if (new JsonAt(create.Results).In(root) is { ValueKind: JsonValueKind.Array } array)
            foreach (var result in array.EnumerateArray())
                if (requestAt.TextIn(result) is { } request)
                    results[request] = result;

        return
        [
            .. writes.Select(w =>
                !results.TryGetValue(w.IdempotencyKey, out var result)
                    ? new WriteAnswer(w.Key, WriteFate.Unknown, $"{_document.Name} answered the batch, but said nothing of this record.")
                : stateAt.TextIn(result) == create.ResultOk && keyAt.TextIn(result) is { Length: > 0 } key
                    ? new WriteAnswer(w.Key, WriteFate.Accepted, null, key)
                : new WriteAnswer(w.Key, WriteFate.Refused, messageAt.TextIn(result) ?? $"{_document.Name} refused it without saying why.")
            ),
        ];
    }

    private List<WriteAnswer> Answers(RestWrite write, IReadOnlyList<RecordWrite> writes, JsonElement root)
    {
        var (keyAt, stateAt, messageAt) = (new JsonAt(write.ResultKey), new JsonAt(write.ResultState), new JsonAt(write.ResultMessage));
        var results = new Dictionary<string, JsonElement>(StringComparer.Ordinal);
        if (new JsonAt(write.Results).In(root) is { ValueKind: JsonValueKind.Array } array)
            foreach (var result in array.EnumerateArray())
                if (keyAt.TextIn(result) is { } key)
                    results[key] = result;

        return
        [
            .. writes.Select(w =>
                !results.TryGetValue(w.Key, out var result)
                    ? new WriteAnswer(w.Key, WriteFate.Unknown, $"{_document.Name} answered the batch, but said nothing of this record.")
                : stateAt.TextIn(result) == write.ResultOk ? new WriteAnswer(w.Key, WriteFate.Accepted, null)
                : new WriteAnswer(
                    w.Key,
                    WriteFate.Refused,
                    messageAt.TextIn(result) ?? stateAt.TextIn(result) ?? "refused without a reason"
                )
            ),
        ];
    }

    private static string? Next(Resource resource, JsonElement root, string? page, int listed)
    {
        var list = resource.Document.List;
        switch (list.Paging)
        {
            case RestPaging.Cursor:
                return resource.Next.TextIn(root) is { Length: > 0 } next && next != page ? next : null;
            case RestPaging.Page:
                var number = int.Parse(page!, CultureInfo.InvariantCulture);
                var more = int.TryParse(resource.Pages.TextIn(root), CultureInfo.InvariantCulture, out var pages)
                    ? number < pages
                    : listed >= list.Size;
                return more ? (number + 1).ToString(CultureInfo.InvariantCulture) : null;
            default:
                return null;
        }
    }

    private static string With(string path, List<string> query) =>
        query.Count == 0 ? path : $"{path}{(path.Contains('?', StringComparison.Ordinal) ? '&' : '?')}{string.Join('&', query)}";

    // A resource with its paths taken apart once.
    private sealed class Resource(RestResource document)
    {
        private readonly FieldReader[] _readers = [.. document.Fields.Select(f => new FieldReader(f))];
        private readonly JsonAt _key = new(document.Key);
        private readonly JsonAt _parent = new(document.Parent);
        private readonly JsonAt _each = new(document.List.Each);

        public RestResource Document { get; } = document;

        public FieldSet Fields { get; } = new([.. document.Fields.Select(f => f.Describe())]);

        public JsonAt Records { get; } = new(document.List.Records);

        public JsonAt Next { get; } = new(document.List.NextPath);

        public JsonAt Pages { get; } = new(document.List.PagesPath);

        public JsonAt Total { get; } = new(document.List.TotalPath);

        public FieldReader Reader(string field) => _readers.First(r => r.Field.Name == field);

        public Outcome<IReadOnlyList<ReadRecord>> Read(JsonElement array)
        {
            var records = new List<ReadRecord>(array.GetArrayLength());
            foreach (var entry in array.EnumerateArray())
            {
                if (Document.List.Each is null)
                {
                    if (One(entry, entry, JsonMarshal.GetRawUtf8Value(entry).ToArray()) is not { } record)
                        return NoKey();
                    records.Add(record);
                    continue;
                }

                if (_each.In(entry) is not { ValueKind: JsonValueKind.Array } nested)
                    continue;
                foreach (var inner in nested.EnumerateArray())
                {
                    if (One(inner, entry, RawWithParent(inner, entry)) is not { } record)
                        return NoKey();
                    records.Add(record);
                }
            }

            return records;
        }

        private Fault NoKey() =>
            new("noKey", $"a record of {Document.Label} has no “{Document.Key}”, which its description names as the key.");

        private ReadRecord? One(JsonElement record, JsonElement parent, byte[] raw)
        {
            if (_key.TextIn(_key.FromParent ? parent : record) is not { Length: > 0 } key)
                return null;
            var values = new Dictionary<string, string>(_readers.Length, StringComparer.Ordinal);
            List<FieldProblem>? problems = null;
            foreach (var reader in _readers)
                if (reader.Read(record, parent, ref problems) is { } value)
                    values[reader.Field.Name] = value;
            return new ReadRecord(
                key,
                _parent.TextIn(_parent.FromParent ? parent : record),
                values,
                raw,
                problems ?? (IReadOnlyList<FieldProblem>)[]
            );
        }

        // The nested record and, beside it, what the entry around it says, without the sisters.
        private byte[] RawWithParent(JsonElement record, JsonElement parent)
        {
            var buffer = new ArrayBufferWriter<byte>(512);
            using var json = new Utf8JsonWriter(buffer);
            json.WriteStartObject();
            json.WritePropertyName("record");
            record.WriteTo(json);
            json.WriteStartObject("within");
            foreach (var property in parent.EnumerateObject().Where(p => !p.NameEquals(Document.List.Each!)))
                property.WriteTo(json);
            json.WriteEndObject();
            json.WriteEndObject();
            json.Flush();
            return buffer.WrittenSpan.ToArray();
        }
    }
}
