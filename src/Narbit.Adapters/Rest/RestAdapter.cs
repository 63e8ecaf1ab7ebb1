using System.Diagnostics;
using System.Text.Json;
using Narbit.Adapters.Describing;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Talks to any REST system that a <see cref="RestDocument"/> describes. Safe to use from several threads; the rate holds for all of them
/// together.
/// </summary>
public sealed class RestAdapter : IAdapter
{
    private const int SinglesAtOnce = 20;

    private readonly RestDocument _document;
    private readonly TimeProvider _clock;
    private readonly RestTransport _transport;
    private readonly ListsApart _apart;
    private readonly Dictionary<RecordKind, ResourceReader> _resources;

    /// <summary>An adapter for a system.</summary>
    /// <param name="document">The description.</param>
    /// <param name="address">The system's address, already checked.</param>
    /// <param name="credential">How to sign in, or null.</param>
    /// <param name="outbound">Which addresses may be connected to.</param>
    /// <param name="clock">The time, for waiting.</param>
    public RestAdapter(RestDocument document, Uri address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
    {
        (_document, _clock) = (document, clock);
        _transport = new RestTransport(document, address, credential, outbound, clock);
        _apart = new ListsApart(document, _transport);
        _resources = document.Resources.ToDictionary(r => r.Kind, r => new ResourceReader(r));
        Kinds =
        [
            .. _resources.Values.Select(r => new OfferedKind(r.Document.Kind, r.Document.Label, r.Fields, WrittenAtOnce(r.Document))
            {
                Updates = r.Document.Write is not null,
                LooksUp = r.Document.Lookup is not null,
                LookedUpAtOnce = r.Document.Lookup is { Parameter: not null } many ? many.Size : 1,
                Shifts = r.Document.List.Paging is RestPaging.Page or RestPaging.Offset or RestPaging.Link,
                FoundBy = r.Document.Find?.Field,
                Creates = r.Document.Create is not null,
                HonoursKeys = r.Document.Create?.MakesOnce == true,
                AnswersWithin = TimeSpan.FromSeconds(document.Limits.TimeoutSeconds),
                Ends = r.Document.Write is { End: not null } or { Ending: not null },
                ReadWith = r.Document.List.With,
            }),
        ];
    }

    // Where each record is a request of its own, several are on their way at once, and their look-ups are joined.
    private static int WrittenAtOnce(RestResource resource) =>
        ((RestChange?)resource.Write ?? resource.Create) switch
        {
            null => 0,
            { Single: true } => SinglesAtOnce,
            var several => several.BatchSize,
        };

    /// <inheritdoc/>
    public IReadOnlyList<OfferedKind> Kinds { get; }

    /// <inheritdoc/>
    public void Dispose() => _transport.Dispose();

    /// <inheritdoc/>
    public bool ReadsChanges(RecordKind kind) => _resources[kind].Document.List is { ChangedSince: not null } or { NewestFirst: not null };

    /// <inheritdoc/>
    public async Task<TestAnswer> TestAsync(CancellationToken cancel)
    {
        var watch = Stopwatch.StartNew();
        var probed = await ProbeAsync(cancel);
        var milliseconds = (int)watch.ElapsedMilliseconds;
        if (probed.Fault is { } fault)
            return new TestAnswer(false, fault.Words, milliseconds);
        var name = probed.Value.Length == 0 ? null : probed.Value;

        var found = new List<string>();
        foreach (var resource in _resources.Values.Where(r => r.Document.List.With is null))
        {
            var page = await ReadPageAsync(resource.Document.Kind, null, null, cancel);
            if (page.Fault is { } broken)
                return new TestAnswer(
                    false,
                    $"{(_document.Test is null ? "Its" : "It answers, but its")} {resource.Document.Label} cannot be read. {broken.Words}",
                    milliseconds
                );
            if (_document.Test is null && found.Count == 0)
                milliseconds = (int)watch.ElapsedMilliseconds;
            if (page.Value.Unkept is [{ Words: { } unkept }, ..])
                return new TestAnswer(false, Unkept(resource.Document.Label, unkept, page.Value), milliseconds);
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

    // The name that the system gives itself; empty where it gives none, or nothing shows it.
    private async Task<Outcome<string>> ProbeAsync(CancellationToken cancel)
    {
        if (_document.Test is not { } test)
            return "";
        var probe = await _transport.SendAsync(
            new RestRequest
            {
                Method = HttpMethod.Get,
                Path = test.Path,
                Attempts = 2,
                MayBeEmpty = true,
            },
            cancel
        );
        if (probe.Fault is { } fault)
            return fault;
        using var content = probe.Value;
        return new JsonAt(test.NamePath).TextIn(content.Root) ?? "";
    }

    private static string Unkept(string label, string first, RecordPage page) =>
        $"{page.Unkept.Count} of {page.Unkept.Count + page.Records.Count} {label} cannot be kept: {first}. Choose another key, or amend "
        + "where the records are.";

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
        var page = new ListPage(resource.Document.List, cursor, changedSince);
        var reply = await _transport.SendAsync(page.Request(_document.Limits.Attempts), cancel);
        if (reply.Fault is { } fault)
            return fault;
        using var content = reply.Value;
        if (resource.Entries(content.Root, _document.Replies) is not { } listed)
            return new Reason(
                "noList",
                $"{_document.Name} answered, but without the list “{resource.Document.List.Records}” that its description names for "
                    + $"{resource.Document.Label}."
            );

        var whole = await _apart.IntoAsync(resource, listed, cancel);
        if (whole.Fault is { } apart)
            return apart;
        var read = resource.Read(whole.Value);
        var next = page.Next(content, listed, read.LastKey, _transport.Base);
        if (next.Fault is { } endless)
            return Named(endless);
        return new RecordPage(read.Records, next.Value.Cursor, listed.Count, page.Total(content.Root))
        {
            Beside = Beside(kind, listed),
            Unkept = read.Unkept,
            AnsweredAt = content.AnsweredAt,
            NewestChange = page.NewestChange(listed),
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
            ? await AskForAsync(_resources[kind], find, values, cancel)
            : new Reason("noFind", $"{_document.Name} has no way to find {_resources[kind].Document.Label} by what stands in them.");

    private async Task<Outcome<IReadOnlyList<ReadRecord>>> AskForAsync(
        ResourceReader resource,
        RestAsk ask,
        IReadOnlyCollection<string> wanted,
        CancellationToken cancel
    )
    {
        var groups = wanted.Chunk(ask.Parameter is null ? 1 : ask.Size);
        var answers = await Task.WhenAll(groups.Select(some => AskOnceAsync(resource, ask, some, cancel)));
        if (Array.Find(answers, a => a.Fault is not null) is { Fault: { } fault })
            return fault;
        return answers.SelectMany(a => a.Value).ToList();
    }

    private async Task<Outcome<IReadOnlyList<ReadRecord>>> AskOnceAsync(
        ResourceReader resource,
        RestAsk ask,
        string[] wanted,
        CancellationToken cancel
    )
    {
        var body = new RestBody(ask);
        if (ask.Parameter is { } parameter)
            body.Say(parameter, wanted);
        var reply = await _transport.SendAsync(Asking(ask.Method, body.Path(wanted[0]), body.Content()), cancel);
        // By a path of its own, a record that is gone is a path that is not there.
        if (reply.Fault is { Code: "notFound" } && ask.Parameter is null)
            return new List<ReadRecord>();
        if (reply.Fault is { } fault)
            return fault;
        using var content = reply.Value;
        var entries = ask.Records is { } at
            ? ResourceReader.Entries(new JsonAt(at), content.Root)
            : resource.Entries(content.Root, _document.Replies);
        if (entries is null)
            return new Reason(
                "noList",
                $"{_document.Name} answered a look-up without the list “{ask.Records ?? resource.Document.List.Records}”."
            );
        var whole = await _apart.IntoAsync(resource, entries, cancel);
        if (whole.Fault is { } apart)
            return apart;
        var read = resource.Read(whole.Value);
        // What cannot be told apart or read is not missing; nothing is known of it.
        return read.Unkept is [{ Key: { } key, Words: { } words }, ..] && wanted.Contains(key, StringComparer.Ordinal)
            ? Named(new Reason("lookup.unkept", $"{words}."))
            : Outcome.Of(read.Records);
    }

    private RestRequest Asking(string method, string path, ReadOnlyMemory<byte> body) =>
        new()
        {
            Method = new HttpMethod(method),
            Path = path,
            Body = body,
            Attempts = _document.Limits.Attempts,
        };

    /// <inheritdoc/>
    public string? KeptAs(RecordKind kind) => _resources[kind].Document.List.Each ?? "";

    /// <inheritdoc/>
    public ReadRecord? Understand(RecordKind kind, ReadOnlyMemory<byte> raw, ReadOnlyMemory<byte> around)
    {
        using var record = JsonDocument.Parse(raw);
        using var parent = around.IsEmpty ? null : JsonDocument.Parse(around);
        return _resources[kind].Understand(record.RootElement, (parent ?? record).RootElement);
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<WriteAnswer>> WriteAsync(RecordKind kind, IReadOnlyList<RecordWrite> writes, CancellationToken cancel)
    {
        var resource = _resources[kind];
        RestBatch batch = writes is [{ Act: WriteAct.Create }, ..]
            ? new CreateBatch(_document.Name, resource)
            : new UpdateBatch(_document.Name, resource, writes is [{ Act: WriteAct.End }, ..]);
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

    /// <summary>The request by which a record would be changed.</summary>
    internal ShownRequest Shown(RecordKind kind, RecordWrite write)
    {
        var batch = new UpdateBatch(_document.Name, _resources[kind], ends: false);
        var body = batch.Body([write], out _);
        return new ShownRequest(batch.Method.Method, batch.Path(write), System.Text.Encoding.UTF8.GetString(body.Span));
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
        var asked = await _transport.AskAsync(
            new RestRequest
            {
                Method = batch.Method,
                Path = batch.Path(writes[0]),
                Body = body,
                Attempts = attempts,
                RepeatsSafely = batch.RepeatsSafely(writes),
                MayBeEmpty = batch.IsSingle,
                Headers = [.. batch.Headers(writes[0]), .. Matching(kind, batch, writes[0])],
            },
            cancel
        );
        var reply = await new LaterAnswer(_document, _transport, _clock).OfAsync(batch.Later, asked.Outcome, cancel);
        if (reply.Fault is { } fault)
        {
            var nothingDone =
                fault.Code is FaultCodes.Rejected or FaultCodes.Conflict
                || (fault.Code == FaultCodes.ServerError && batch.RepeatsSafely(writes));
            if (nothingDone && writes.Count > 1)
            {
                // What the whole request was asked for may have been done, if it failed or an attempt of it had no answer.
                var doubt = asked.InDoubt || fault.Code == FaultCodes.ServerError;
                var parts = writes.ConvertAll(w => doubt ? w with { InDoubt = true } : w).Chunk((writes.Count + 1) / 2);
                var answers = new List<WriteAnswer>();
                foreach (var part in parts)
                    answers.AddRange(await WriteAsync(kind, part, cancel));
                return answers;
            }

            return
            [
                .. writes.Select(w => new WriteAnswer(w.Key, RestBatch.FateOf(fault, w.InDoubt || asked.InDoubt), fault)
                {
                    Requests = asked.Attempts,
                }),
            ];
        }

        using var content = reply.Value;
        var found = await KeyByFindAsync(kind, batch, writes, content, cancel);
        return
        [
            .. batch
                .Answers(writes, content, found)
                .Select(a => asked.Trouble is null ? a : a with { Requests = asked.Attempts, Trouble = asked.Trouble }),
        ];
    }

    // The tag of the record as it was read last.
    private IEnumerable<(string Name, string Value)> Matching(RecordKind kind, RestBatch batch, RecordWrite write)
    {
        if (batch.IfMatch && _resources[kind].Document.Lookup is { } lookup)
            if (_transport.TagOf(new RestBody(lookup).Path(write.Key)) is { } tag)
                yield return ("If-Match", tag);
    }

    private Reason Named(Reason fault) => fault with { Words = $"{_document.Name}: {fault.Words}" };

    // A system that creates one record and does not say under which key is asked for it by what stands in a field.
    private async Task<string?> KeyByFindAsync(
        RecordKind kind,
        RestBatch batch,
        List<RecordWrite> writes,
        RestReply reply,
        CancellationToken cancel
    )
    {
        if (!batch.AsksForKey(reply) || _resources[kind].Document.Find is not { } find)
            return null;
        if (writes[0].Values.GetValueOrDefault(find.Field) is not { Length: > 0 } value)
            return null;
        var found = await FindAsync(kind, [value], cancel);
        return found.ValueOrDefault is [{ } only] ? only.Key : null;
    }

    // Records of other kinds within the same entries; one that several entries name counts as the last of them has it.
    private Dictionary<RecordKind, IReadOnlyList<ReadRecord>> Beside(RecordKind kind, List<JsonElement> entries)
    {
        var beside = new Dictionary<RecordKind, IReadOnlyList<ReadRecord>>();
        foreach (var other in _resources.Values.Where(r => r.Document.List.With == kind))
        {
            var byKey = new Dictionary<string, ReadRecord>(StringComparer.Ordinal);
            foreach (var record in entries.SelectMany(entry => other.Read([entry]).Records))
                byKey[record.Key] = record;
            beside[other.Document.Kind] = [.. byKey.Values];
        }

        return beside;
    }
}
