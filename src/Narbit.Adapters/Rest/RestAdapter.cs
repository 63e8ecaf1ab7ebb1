using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Talks to any REST system that a <see cref="RestDocument"/> describes. Safe to use from several threads; the rate holds for all of them
/// together.
/// </summary>
public sealed class RestAdapter : IAdapter
{
    private readonly RestDocument _document;
    private readonly RestTransport _transport;
    private readonly Dictionary<RecordKind, ResourceReader> _resources;

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
        _resources = document.Resources.ToDictionary(r => r.Kind, r => new ResourceReader(r));
        Kinds =
        [
            .. _resources.Values.Select(r => new OfferedKind(
                r.Document.Kind,
                r.Document.Label,
                r.Fields,
                r.Document.Write?.BatchSize ?? r.Document.Create?.BatchSize ?? 0
            )
            {
                Updates = r.Document.Write is not null,
                FoundBy = r.Document.Find?.Field,
                Creates = r.Document.Create is not null,
                Ends = r.Document.Write?.End is not null,
                ReadWith = r.Document.List.With,
            }),
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
            return new TestAnswer(false, fault.Words, milliseconds);
        string? name;
        using (probe.Value)
            name = new JsonAt(_document.Test.NamePath).TextIn(probe.Value.RootElement);

        var found = new List<string>();
        foreach (var resource in _resources.Values.Where(r => r.Document.List.With is null))
        {
            var page = await ReadPageAsync(resource.Document.Kind, null, null, cancel);
            if (page.Fault is { } broken)
                return new TestAnswer(false, $"It answers, but its {resource.Document.Label} cannot be read. {broken.Words}", milliseconds);
            found.Add(Found(resource.Document.Label, page.Value.Records));
            foreach (var (kind, records) in page.Value.Beside)
                found.Add(Found(_resources[kind].Document.Label, records));
        }

        return new TestAnswer(
            true,
            $"Answered in {milliseconds} ms{(name is null ? "" : $" as “{name}”")}. {string.Join(". ", found)}.",
            milliseconds
        );
    }

    private static string Found(string label, IReadOnlyList<ReadRecord> records)
    {
        var troubled = records.Where(r => r.Problems.Count > 0).ToList();
        return troubled.Count == 0
            ? $"{label}: {records.Count} read, all as described"
            : $"{label}: {records.Count} read, {troubled.Count} not as described "
                + $"(first {troubled[0].Key}: {troubled[0].Problems[0].Message})";
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
        var page = cursor ?? (list.Paging == RestPaging.Page ? "1" : null);
        var reply = await _transport.SendAsync(
            HttpMethod.Get,
            With(list.Path!, Query(list, page, changedSince)),
            default,
            _document.Limits.Attempts,
            repeatUnanswered: true,
            cancel
        );
        if (reply.Fault is { } fault)
            return fault;
        using var json = reply.Value;
        if (resource.Records.In(json.RootElement) is not { ValueKind: JsonValueKind.Array } array)
            return new Reason(
                "noList",
                $"{_document.Name} answered, but without the list “{list.Records}” that its description names for "
                    + $"{resource.Document.Label}."
            );

        var records = resource.Read(array);
        if (records.Fault is { } unreadable)
            return Named(unreadable);
        var beside = Beside(kind, array);
        if (beside.Fault is { } besides)
            return Named(besides);
        var listed = array.GetArrayLength();
        return new RecordPage(records.Value, Next(resource, json.RootElement, page, listed), listed, Total(resource, json.RootElement))
        {
            Beside = beside.Value,
        };
    }

    /// <inheritdoc/>
    public async Task<Outcome<IReadOnlyList<ReadRecord>>> LookUpAsync(
        RecordKind kind,
        IReadOnlyCollection<string> keys,
        CancellationToken cancel
    ) =>
        _resources[kind].Document.Lookup is { } lookup
            ? await AskForAsync(_resources[kind], lookup, keys, cancel)
            : new Reason("noLookup", $"{_document.Name} has no way to look {_resources[kind].Document.Label} up by key.");

    /// <inheritdoc/>
    public async Task<Outcome<IReadOnlyList<ReadRecord>>> FindAsync(
        RecordKind kind,
        IReadOnlyCollection<string> values,
        CancellationToken cancel
    ) =>
        _resources[kind].Document.Find is { } find
            ? await AskForAsync(_resources[kind], new RestLookup(find.Path, find.Parameter, find.Size), values, cancel)
            : new Reason("noFind", $"{_document.Name} has no way to find {_resources[kind].Document.Label} by what stands in them.");

    private async Task<Outcome<IReadOnlyList<ReadRecord>>> AskForAsync(
        ResourceReader resource,
        RestLookup lookup,
        IReadOnlyCollection<string> wanted,
        CancellationToken cancel
    )
    {
        var found = new List<ReadRecord>(wanted.Count);
        foreach (var some in wanted.Chunk(lookup.Size))
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
                return new Reason(
                    "noList",
                    $"{_document.Name} answered a look-up " + $"without the list “{resource.Document.List.Records}”."
                );
            var records = resource.Read(array);
            if (records.Fault is { } unreadable)
                return Named(unreadable);
            found.AddRange(records.Value);
        }

        return found;
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<WriteAnswer>> WriteAsync(RecordKind kind, IReadOnlyList<RecordWrite> writes, CancellationToken cancel)
    {
        var resource = _resources[kind];
        RestBatch batch = writes is [{ Act: WriteAct.Create }, ..]
            ? new CreateBatch(_document.Name, resource)
            : new UpdateBatch(_document.Name, resource);
        if (writes.Count > batch.Size)
        {
            var parts = await Task.WhenAll(writes.Chunk(batch.Size).Select(some => WriteAsync(kind, some, cancel)));
            return [.. parts.SelectMany(answers => answers)];
        }

        var body = batch.Body(writes, out var unwritable);
        var sent = writes.Where(w => !unwritable.ContainsKey(w.Key)).ToList();
        var answers = sent.Count == 0 ? [] : await SendAsync(kind, batch, sent, body, cancel);
        var byKey = answers.ToDictionary(a => a.Key, StringComparer.Ordinal);
        return [.. writes.Select(w => unwritable.GetValueOrDefault(w.Key) ?? byKey[w.Key])];
    }

    private async Task<IReadOnlyList<WriteAnswer>> SendAsync(
        RecordKind kind,
        RestBatch batch,
        List<RecordWrite> writes,
        ReadOnlyMemory<byte> body,
        CancellationToken cancel
    )
    {
        // A batch that fails is taken apart below, so only a single record is worth all attempts.
        var attempts = writes.Count > 1 ? Math.Min(3, _document.Limits.Attempts) : _document.Limits.Attempts;
        var asked = await _transport.AskAsync(batch.Method, batch.Path, body, attempts, batch.RepeatsSafely, cancel);
        var reply = asked.Outcome;
        if (reply.Fault is { } fault)
        {
            if (fault.Code is FaultCodes.ServerError or FaultCodes.Rejected && writes.Count > 1)
            {
                var half = writes.Count / 2;
                return
                [
                    .. await WriteAsync(kind, [.. writes.Take(half)], cancel),
                    .. await WriteAsync(kind, [.. writes.Skip(half)], cancel),
                ];
            }

            return [.. writes.Select(w => new WriteAnswer(w.Key, batch.FateOf(fault), fault) { Requests = asked.Attempts })];
        }

        using var json = reply.Value;
        return
        [
            .. batch
                .Answers(writes, json.RootElement)
                .Select(a => asked.Trouble is null ? a : a with { Requests = asked.Attempts, Trouble = asked.Trouble }),
        ];
    }

    private Reason Named(Reason fault) => fault with { Words = $"{_document.Name}: {fault.Words}" };

    private static List<string> Query(RestList list, string? page, DateTimeOffset? changedSince)
    {
        var query = new List<string>();
        if (list.SizeParameter is { } size)
            query.Add($"{size}={list.Size}");
        if (page is not null && list.PageParameter is { } parameter)
            query.Add($"{parameter}={Uri.EscapeDataString(page)}");
        if (changedSince is { } since && list.ChangedSince is { } changed)
        {
            var instant = since.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture);
            query.Add($"{changed}={Uri.EscapeDataString(instant)}");
        }

        return query;
    }

    // Records of other kinds within the same entries; one that several entries name counts as the last of them has it.
    private Outcome<IReadOnlyDictionary<RecordKind, IReadOnlyList<ReadRecord>>> Beside(RecordKind kind, JsonElement array)
    {
        var beside = new Dictionary<RecordKind, IReadOnlyList<ReadRecord>>();
        foreach (var other in _resources.Values.Where(r => r.Document.List.With == kind))
        {
            var read = other.Read(array);
            if (read.Fault is { } fault)
                return fault;
            var byKey = new Dictionary<string, ReadRecord>(StringComparer.Ordinal);
            foreach (var record in read.Value)
                byKey[record.Key] = record;
            beside[other.Document.Kind] = [.. byKey.Values];
        }

        return beside;
    }

    private static int? Total(ResourceReader resource, JsonElement root) =>
        resource.Total.TextIn(root) is { } text && int.TryParse(text, CultureInfo.InvariantCulture, out var number) ? number : null;

    private static string? Next(ResourceReader resource, JsonElement root, string? page, int listed)
    {
        var list = resource.Document.List;
        switch (list.Paging)
        {
            case RestPaging.Cursor:
                return resource.Next.TextIn(root) is { Length: > 0 } next ? next : null;
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
}
