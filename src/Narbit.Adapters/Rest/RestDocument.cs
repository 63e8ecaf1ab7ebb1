using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>How a system signs its callers in.</summary>
[JsonConverter(typeof(CamelCaseEnum<RestScheme>))]
public enum RestScheme
{
    /// <summary>Not at all.</summary>
    None,

    /// <summary>A key in a header of its own.</summary>
    Header,

    /// <summary>A key in a parameter of every address.</summary>
    Query,

    /// <summary>HTTP basic authentication, RFC 7617.</summary>
    Basic,

    /// <summary>A bearer token, RFC 6750.</summary>
    Bearer,

    /// <summary>
    /// Tokens that are fetched with a client's name and secret, and renewed before they end: OAuth 2.0, RFC 6749 section 4.4.
    /// </summary>
    ClientCredentials,

    /// <summary>
    /// Tokens that are fetched for what a person has granted: OAuth 2.0, RFC 6749 section 4.1, with PKCE, RFC 7636.
    /// </summary>
    AuthorizationCode,
}

/// <summary>What replies are written in.</summary>
[JsonConverter(typeof(CamelCaseEnum<ReplyForm>))]
public enum ReplyForm
{
    /// <summary>JSON.</summary>
    Json,

    /// <summary>
    /// XML without a document type. An element is an object of its elements and attributes (with @ before their names), or its text;
    /// elements of one name beside each other are a list.
    /// </summary>
    Xml,

    /// <summary>CSV: a list of objects, one a row, by the names in the first line.</summary>
    Csv,
}

/// <summary>How pages follow each other.</summary>
[JsonConverter(typeof(CamelCaseEnum<RestPaging>))]
public enum RestPaging
{
    /// <summary>All records in one reply.</summary>
    None,

    /// <summary>Each reply names the cursor of the next page.</summary>
    Cursor,

    /// <summary>Pages are numbered.</summary>
    Page,

    /// <summary>Each page is asked for by the number of entries before it.</summary>
    Offset,

    /// <summary>Each reply has the address of the next page in its Link header, RFC 8288.</summary>
    Link,

    /// <summary>Each page is asked for by the key of the last record of the page before.</summary>
    LastKey,
}

/// <summary>A system's description to the REST adapter. The guide is docs/connect.md.</summary>
public sealed record RestDocument : ISystemDocument
{
    /// <summary>The format's name and version.</summary>
    public const string CurrentFormat = "narbit/rest-system/1";

    /// <summary>Always <see cref="CurrentFormat"/>.</summary>
    public required string Format { get; init; }

    /// <summary>The system's name.</summary>
    public required string Name { get; init; }

    /// <summary>What it is to the business.</summary>
    public required SystemKind Kind { get; init; }

    /// <summary>Two letters that stand for it on screen.</summary>
    public required string Mark { get; init; }

    /// <summary>ISO 4217 code of its amounts.</summary>
    public required string Currency { get; init; }

    /// <summary>The currency's digits after the point, 0 to 6.</summary>
    public int Decimals { get; init; } = 2;

    /// <summary>Where it is; paths are relative to it.</summary>
    public required string Address { get; init; }

    /// <summary>How it signs callers in.</summary>
    public RestAuthentication Authentication { get; init; } = new();

    /// <summary>What its replies are written in.</summary>
    public ReplyForm Replies { get; init; }

    /// <summary>What to call to see whether it answers; null: its lists are as good.</summary>
    public RestProbe? Test { get; init; }

    /// <summary>What it can bear.</summary>
    public RestLimits Limits { get; init; } = new();

    /// <summary>Paths at which a refusal keeps its words, tried in order.</summary>
    public IReadOnlyList<string> ErrorPaths { get; init; } = [];

    /// <summary>
    /// Paths at which a reply that looks well (200) says that the request failed: something stands there that is no empty list.
    /// </summary>
    public IReadOnlyList<string> FailurePaths { get; init; } = [];

    /// <summary>Its webhooks; null: it sends none.</summary>
    public HookDescription? Webhook { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public HookDescription? Hook => Webhook;

    /// <summary>What it holds, one entry a record kind.</summary>
    public required IReadOnlyList<RestResource> Resources { get; init; }

    /// <summary>Reads and checks a document.</summary>
    /// <returns>The document, or a fault that names the first thing wrong with it by path.</returns>
    public static Outcome<RestDocument> Read(string json)
    {
        RestDocument? document;
        try
        {
            if (JsonText.HasNothingInAList(json))
                return Unreadable.NothingInAList;
            document = JsonSerializer.Deserialize<RestDocument>(json, Options);
        }
        catch (JsonException error)
        {
            return Unreadable.Document(error);
        }

        if (document is null)
            return new Reason("document.unreadable", "The description is empty.");
        return document.Checked() is { } fault ? fault : document;
    }

    /// <summary>What is wrong with it, named by path; null: nothing.</summary>
    public Reason? Checked() => FirstFault() is { } fault ? new Reason("document.invalid", fault) : null;

    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        AllowDuplicateProperties = false,
        ReadCommentHandling = JsonCommentHandling.Skip,
        RespectNullableAnnotations = true,
    };

    /// <inheritdoc/>
    [JsonIgnore]
    public string SignsInWith => Authentication.Scheme.ToString().ToLowerInvariant();

    /// <inheritdoc/>
    [JsonIgnore]
    public string? SignInAddress =>
        Authentication is { FetchesTokens: true, Token: { } token } && Uri.TryCreate(token, UriKind.Absolute, out _) ? token : null;

    /// <inheritdoc/>
    [JsonIgnore]
    public double RequestsPerSecond => Limits.RequestsPerSecond;

    /// <inheritdoc/>
    public Outcome<IAdapter> Adapter(string address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
    {
        var uri = outbound.Check(address);
        return uri.Fault is { } fault ? fault : Outcome.Of<IAdapter>(new RestAdapter(this, uri.Value, credential, outbound, clock));
    }

    private string? FirstFault() =>
        OwnFault() ?? Resources.Select((r, i) => ResourceFault(r, i)).FirstOrDefault(f => f is not null) ?? HookFault();

    private string? OwnFault()
    {
        if (Format != CurrentFormat)
            return $"format: “{Format}” is not {CurrentFormat}.";
        if (Mark.Length != 2)
            return "mark: give two letters.";
        if (Limits.RequestsPerSecond is <= 0 or > 1000)
            return "limits.requestsPerSecond: must be above 0 and at most 1,000.";
        if (Limits.TimeoutSeconds is <= 0 or > 600)
            return "limits.timeoutSeconds: must be above 0 and at most 600.";
        if (Limits.Attempts is < 1 or > 20)
            return "limits.attempts: must be from 1 to 20.";
        if (Resources.Count == 0)
            return "resources: the system offers nothing.";
        if (Test is not null && LeadsElsewhere(Test.Path))
            return Elsewhere("test.path");
        return Authentication.FirstFault() is { } signIn ? $"authentication.{signIn}" : null;
    }

    private string? HookFault() =>
        Webhook is { } hook && Resources.All(r => r.Kind != hook.Kind) ? "webhook.kind: the system describes no such records." : null;

    private string? ResourceFault(RestResource resource, int index)
    {
        var at = $"resources[{index}]";
        if (Resources.Take(index).Any(r => r.Kind == resource.Kind))
            return $"{at}.kind: there are two entries of this kind.";
        if (Twice(resource.Fields) is { } twice)
            return $"{at}.fields: “{twice}” is described twice.";
        if (
            resource.Fields.Concat(resource.Children.SelectMany(c => c.Fields)).FirstOrDefault(f => f is { Path: null, Always: null }) is
            { } nowhere
        )
            return $"{at}.fields: “{nowhere.Name}” needs a path, or what it always is.";
        return ListFault(resource.List, $"{at}.list") ?? ChildrenFault(resource, at) ?? WriteFault(resource, at);
    }

    private string? ListFault(RestList list, string at)
    {
        if (list.With is { } with)
            return list.Path is null && Resources.Any(r => r.Kind == with && r.List.With is null)
                ? null
                : $"{at}.with: name a kind of this system that has a list of its own, and no path beside it.";
        if (list.Path is null || list.Records is null)
            return $"{at}: needs a path and where the reply keeps the records, or the kind whose list holds them (with).";
        if (
            list.NewestFirst is { } order
            && (order.Path.Length == 0 || order.Parameter is { Length: > 0 } != order.Value is { Length: > 0 })
        )
            return $"{at}.newestFirst: say where an entry says when it changed, and the parameter with its value that ask for that order.";
        return PagesFault(list, at);
    }

    private static string? PagesFault(RestList list, string at)
    {
        if (CallFault(list, at) is { } call)
            return call;
        if (list.Paging is RestPaging.Page or RestPaging.Offset or RestPaging.Cursor or RestPaging.LastKey && list.PageParameter is null)
            return $"{at}.pageParameter: say which parameter asks for the next page.";
        return list.Size is < 1 or > 10_000 ? $"{at}.size: must be from 1 to 10,000." : null;
    }

    private static string? ChildrenFault(RestResource resource, string at)
    {
        if (resource.Children.GroupBy(c => c.Name, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1) is { } twice)
            return $"{at}.children: “{twice.Key}” is described twice.";
        for (var i = 0; i < resource.Children.Count; i++)
            if (ChildFault(resource, resource.Children[i], $"{at}.children[{i}]") is { } fault)
                return fault;
        return null;
    }

    private static string? ChildFault(RestResource resource, RestChildren child, string at)
    {
        if (Twice(child.Fields) is { } field)
            return $"{at}.fields: “{field}” is described twice.";
        if (child.List is not { } list)
            return null;
        if (resource.List.Each is not null || resource.List.With is not null)
            return $"{at}.list: only records that are entries of a list of their own have lists at other paths.";
        if (child.Path.Length == 0 || child.Path.AsSpan().IndexOfAny('.', '^') >= 0)
            return $"{at}.path: give one name, under which the list is put into its record.";
        if (list.Path?.Contains("{key}", StringComparison.Ordinal) != true)
            return $"{at}.list.path: say with {{key}} where the record's key stands.";
        if (list is not { With: null, Each: null, ChangedSince: null, NewestFirst: null })
            return $"{at}.list: it has a path, where the reply keeps it, and pages; nothing else.";
        if (list.Paging == RestPaging.LastKey)
            return $"{at}.list.paging: its entries have no keys to go on after.";
        return PagesFault(list, $"{at}.list");
    }

    private static string? WriteFault(RestResource resource, string at)
    {
        if (resource.Write is not null && resource.Lookup is null)
            return $"{at}.lookup: a kind that is written needs a way to look records up by key, so that a write can be confirmed.";
        if (resource.Create is not null && resource.Lookup is null)
            return $"{at}.lookup: a kind whose records are created needs a way to look them up, so that it can be confirmed.";
        if (
            resource.Write is { IfMatch: true, Single: false }
            || (resource.Write?.IfMatch == true && resource.Lookup?.Parameter is not null)
        )
            return $"{at}.write.ifMatch: needs records that are read and written one by one, at a path of their own.";
        if (resource.Find is { } find && resource.Fields.All(f => f.Name != find.Field))
            return $"{at}.find.field: “{find.Field}” is none of its fields.";
        (string Name, RestCall? Call)[] calls =
        [
            ("lookup", resource.Lookup),
            ("find", resource.Find),
            ("write", resource.Write),
            ("write.ending", resource.Write?.Ending),
            ("create", resource.Create),
        ];
        foreach (var (name, call) in calls)
            if (call is not null && CallFault(call, $"{at}.{name}") is { } fault)
                return fault;
        return resource.Write?.FirstFault($"{at}.write") ?? resource.Create?.FirstFault(resource.Find, $"{at}.create");
    }

    private static string? CallFault(RestCall call, string at)
    {
        if (LeadsElsewhere(call.Path ?? ""))
            return Elsewhere($"{at}.path");
        if (call is { Body: not null, Method: "GET" })
            return $"{at}.method: a call with a body is no GET.";
        if (call.Body is { ValueKind: not JsonValueKind.Object })
            return $"{at}.body: must be an object.";
        var size = call switch
        {
            RestAsk ask => ("size", ask.Size),
            RestChange change => ("batchSize", change.BatchSize),
            _ => ("", 1),
        };
        return size.Item2 < 1 ? $"{at}.{size.Item1}: must be 1 or more." : null;
    }

    private static string? Twice(IReadOnlyList<RestField> fields) =>
        fields.GroupBy(f => f.Name, StringComparer.Ordinal).FirstOrDefault(g => g.Count() > 1)?.Key;

    // Whoever writes a description must not make Narbit send its secret to another machine, or to another part of this one.
    internal static bool LeadsElsewhere(string path)
    {
        var bare = path.Split('?', '#')[0];
        return Uri.TryCreate(path, UriKind.Absolute, out _)
            || bare.StartsWith('/')
            || bare.AsSpan().IndexOfAny('\\', ':') >= 0
            || Uri.UnescapeDataString(bare).Split('/').Contains("..");
    }

    internal static string Elsewhere(string at) =>
        $"{at}: give a path below the system's address, " + "without “/” before it and without “..”.";
}

/// <summary>How callers sign in.</summary>
public sealed record RestAuthentication
{
    /// <summary>The scheme.</summary>
    public RestScheme Scheme { get; init; }

    /// <summary>The header of <see cref="RestScheme.Header"/>.</summary>
    public string? Header { get; init; }

    /// <summary>The parameter of <see cref="RestScheme.Query"/>.</summary>
    public string? Parameter { get; init; }

    /// <summary>
    /// Where a person grants access, for <see cref="RestScheme.AuthorizationCode"/>: a path below the system's address, or an address of
    /// its own.
    /// </summary>
    public string? Authorize { get; init; }

    /// <summary>
    /// Where tokens are fetched, for <see cref="RestScheme.ClientCredentials"/> and <see cref="RestScheme.AuthorizationCode"/>: a path
    /// below the system's address, or an address of its own.
    /// </summary>
    public string? Token { get; init; }

    /// <summary>What the token shall be good for, as the system names it; null: nothing is said.</summary>
    public string? Scope { get; init; }

    /// <summary>
    /// Whether the client's name and secret are sent in the body of the request for a token, not as basic authentication.
    /// </summary>
    public bool ClientInBody { get; init; }

    internal bool FetchesTokens => Scheme is RestScheme.ClientCredentials or RestScheme.AuthorizationCode;

    internal string? FirstFault() =>
        this switch
        {
            { Scheme: RestScheme.AuthorizationCode, Authorize: not { Length: > 0 } } =>
                "authorize: say where a person grants access, by a path or an address.",
            { Scheme: RestScheme.Header, Header: not { Length: > 0 } } => "header: name the header that carries the key.",
            { Scheme: RestScheme.Query, Parameter: not { Length: > 0 } } => "parameter: name the parameter that carries the key.",
            { FetchesTokens: true, Token: not { Length: > 0 } } => "token: say where tokens are fetched, by a path or an address.",
            _ => null,
        };
}

/// <summary>A call that shows whether the system answers.</summary>
/// <param name="Path">The path.</param>
/// <param name="NamePath">Where the reply keeps the system's name.</param>
public sealed record RestProbe(string Path, string? NamePath = null);

/// <summary>What the system can bear.</summary>
public sealed record RestLimits
{
    /// <summary>The most requests a second that Narbit makes.</summary>
    public double RequestsPerSecond { get; init; } = 10;

    /// <summary>How long to wait for a reply.</summary>
    public double TimeoutSeconds { get; init; } = 30;

    /// <summary>How often a request is tried in all.</summary>
    public int Attempts { get; init; } = 5;

    /// <summary>
    /// The header that says how many requests are left, where it is not <c>RateLimit-Remaining</c>; together with
    /// <see cref="ResetHeader"/> it makes Narbit wait before the system has to refuse.
    /// </summary>
    public string? RemainingHeader { get; init; }

    /// <summary>
    /// The header that says when there are requests again, where it is not <c>RateLimit-Reset</c>: in how many seconds, or the second
    /// since 1970.
    /// </summary>
    public string? ResetHeader { get; init; }
}

/// <summary>A call to the system.</summary>
public abstract record RestCall
{
    /// <summary>The path below the system's address; <c>{key}</c> in it stands for the record's key.</summary>
    public string? Path { get; init; }

    /// <summary>The method.</summary>
    public string Method { get; init; } = "GET";

    /// <summary>
    /// What a call with a body always says, e.g. the text of a GraphQL query. Parameters then go into the body, at the places that their
    /// names lead to (names joined by dots), and not into the address.
    /// </summary>
    public JsonElement? Body { get; init; }
}

/// <summary>A call that asks for certain records.</summary>
public abstract record RestAsk : RestCall
{
    /// <summary>
    /// The parameter for what is asked for, joined by commas (in a body: a list); null: the path has <c>{key}</c>, and one record is asked
    /// for at a time.
    /// </summary>
    public string? Parameter { get; init; }

    /// <summary>The most that is asked for in a call.</summary>
    public int Size { get; init; } = 50;

    /// <summary>
    /// Where the reply keeps what was asked for, a list or a single entry; null: where the list's reply does. The empty path is the reply
    /// itself.
    /// </summary>
    public string? Records { get; init; }
}

/// <summary>A call that changes something.</summary>
public abstract record RestChange : RestCall
{
    /// <summary>The name of the list in the body; null: a call takes one record, and its path may have <c>{key}</c>.</summary>
    public string? Records { get; init; }

    /// <summary>Where the body has the record, for calls that take one; null: the body is the record.</summary>
    public string? Record { get; init; }

    /// <summary>The name of the idempotency key in the record; null: it is not there.</summary>
    public string? IdempotencyKey { get; init; }

    /// <summary>The header with the idempotency key, for calls that take one record; null: there is none.</summary>
    public string? IdempotencyHeader { get; init; }

    /// <summary>
    /// Whether the system makes nothing twice of a key that it has seen. Otherwise the key only tells results apart, and nothing that
    /// may have been done is sent again.
    /// </summary>
    public bool HonoursKeys { get; init; } = true;

    /// <summary>The most records in a call.</summary>
    public int BatchSize { get; init; } = 1;

    /// <summary>Where the reply keeps the list of results; needed for calls that take several records.</summary>
    public string? Results { get; init; }

    /// <summary>Where a result says how it went.</summary>
    public string? ResultState { get; init; }

    /// <summary>The word for went well.</summary>
    public string? ResultOk { get; init; }

    /// <summary>Where a result keeps its words.</summary>
    public string? ResultMessage { get; init; }

    /// <summary>How it is asked whether what was begun is done; null: an answer counts at once.</summary>
    public RestLater? Later { get; init; }

    /// <summary>Whether a call takes one record.</summary>
    internal bool Single => Records is null;

    /// <summary>Whether the system makes nothing twice of what is sent twice.</summary>
    internal bool MakesOnce => HonoursKeys && (IdempotencyKey is not null || IdempotencyHeader is not null);

    internal string? FirstFault(string at) => ShapeFault(at) ?? Later?.FirstFault($"{at}.later");

    private string? ShapeFault(string at) =>
        Single
            ? BatchSize > 1
                ? $"{at}.batchSize: without “records” a call takes one record."
                : null
            : Results is null || ResultState is null || ResultOk is null
                ? $"{at}: a call that takes several records needs results, resultState and resultOk."
                : IdempotencyHeader is not null
                    ? $"{at}.idempotencyHeader: a call that takes several records has their keys in its body."
                    : null;
}

/// <summary>
/// A change that the system only begins: it answers with what names the operation (RFC 9110, section 15.3.3: 202), and is asked for it
/// until it is done. An answer that names none counts at once.
/// </summary>
public sealed record RestLater
{
    /// <summary>Where the reply keeps what names the operation; null: its Location header does.</summary>
    public string? At { get; init; }

    /// <summary>
    /// The path that asks for it, where <c>{key}</c> stands for what names it; null: what names it is an address below the system's.
    /// </summary>
    public string? Path { get; init; }

    /// <summary>Where the answer says how far it is; null: it is done when the status is no longer 202.</summary>
    public string? State { get; init; }

    /// <summary>The words for done.</summary>
    public IReadOnlyList<string> Done { get; init; } = [];

    /// <summary>The words for failed.</summary>
    public IReadOnlyList<string> Failed { get; init; } = [];

    /// <summary>How long it is asked for, in seconds, above 0 and at most 3,600; what is open then is read back.</summary>
    public double WithinSeconds { get; init; } = 120;

    internal string? FirstFault(string at)
    {
        if (Path is { } path && !path.Contains("{key}", StringComparison.Ordinal))
            return $"{at}.path: say with {{key}} where what names the operation stands.";
        if (Path is not null && RestDocument.LeadsElsewhere(Path))
            return RestDocument.Elsewhere($"{at}.path");
        if (State is null != (Done.Count == 0))
            return $"{at}.done: give the words for done together with where they stand (state).";
        return WithinSeconds is <= 0 or > 3600 ? $"{at}.withinSeconds: must be above 0 and at most 3,600." : null;
    }
}

/// <summary>One record kind of the system.</summary>
public sealed record RestResource
{
    /// <summary>The kind.</summary>
    public required RecordKind Kind { get; init; }

    /// <summary>What the system calls these records.</summary>
    public required string Label { get; init; }

    /// <summary>How they are listed.</summary>
    public required RestList List { get; init; }

    /// <summary>How they are read by key.</summary>
    public RestLookup? Lookup { get; init; }

    /// <summary>How records are found by what stands in a field; null: they are not.</summary>
    public RestFind? Find { get; init; }

    /// <summary>The path of the key.</summary>
    public required string Key { get; init; }

    /// <summary>The path of the key of the record that it belongs to: a variant's product, a stock level's item.</summary>
    public string? Parent { get; init; }

    /// <summary>The path of the code that sisters share, where the system has one.</summary>
    public string? Group { get; init; }

    /// <summary>The fields.</summary>
    public required IReadOnlyList<RestField> Fields { get; init; }

    /// <summary>The lists within each record: an order's lines, a customer's addresses.</summary>
    public IReadOnlyList<RestChildren> Children { get; init; } = [];

    /// <summary>How they are written.</summary>
    public RestWrite? Write { get; init; }

    /// <summary>How records are created; null: they cannot be.</summary>
    public RestCreate? Create { get; init; }
}

/// <summary>How records are listed.</summary>
public sealed record RestList : RestCall
{
    /// <summary>Where the reply keeps the list.</summary>
    public string? Records { get; init; }

    /// <summary>The kind whose list holds these records too, instead of a path; one reading then reads both.</summary>
    public RecordKind? With { get; init; }

    /// <summary>
    /// Where each entry of the list keeps the records nested in it, several or a single one; their fields reach the entry with a path
    /// that starts with ^.
    /// </summary>
    public string? Each { get; init; }

    /// <summary>How pages follow each other.</summary>
    public RestPaging Paging { get; init; }

    /// <summary>The parameter for the cursor, the page number, the offset or the last key.</summary>
    public string? PageParameter { get; init; }

    /// <summary>The number of the first page.</summary>
    public int FirstPage { get; init; } = 1;

    /// <summary>The parameter for the page size.</summary>
    public string? SizeParameter { get; init; }

    /// <summary>The page size to ask for.</summary>
    public int Size { get; init; } = 100;

    /// <summary>Where the reply keeps the next cursor.</summary>
    public string? NextPath { get; init; }

    /// <summary>Where the reply keeps the number of pages.</summary>
    public string? PagesPath { get; init; }

    /// <summary>Where the reply keeps the number of entries in the whole list.</summary>
    public string? TotalPath { get; init; }

    /// <summary>The parameter that asks for records changed since an instant (ISO 8601).</summary>
    public string? ChangedSince { get; init; }

    /// <summary>The form in which it is asked since when, as for fields; null: ISO 8601.</summary>
    public string? ChangedSinceFormat { get; init; }

    /// <summary>
    /// Where an entry says when it changed. The next reading asks for what changed since the latest of these, by the system's own clock;
    /// null: since its reply's date.
    /// </summary>
    public string? ChangedAt { get; init; }

    /// <summary>The form of that instant, as for fields; null: ISO 8601.</summary>
    public string? ChangedAtFormat { get; init; }

    /// <summary>
    /// How it lists what changed last first, where it cannot be asked for changes alone: it is then read until an entry is older. Null: it
    /// does not.
    /// </summary>
    public RestNewestFirst? NewestFirst { get; init; }
}

/// <summary>An order of a list in which what changed last comes first.</summary>
public sealed record RestNewestFirst
{
    /// <summary>Where an entry says when it changed.</summary>
    public required string Path { get; init; }

    /// <summary>The form of that instant, as for fields; null: ISO 8601.</summary>
    public string? Format { get; init; }

    /// <summary>The parameter that asks for this order; null: the list has no other.</summary>
    public string? Parameter { get; init; }

    /// <summary>What the parameter says.</summary>
    public string? Value { get; init; }
}

/// <summary>How records are read by key.</summary>
public sealed record RestLookup : RestAsk;

/// <summary>How records are found by what stands in a field.</summary>
public sealed record RestFind : RestAsk
{
    /// <summary>The field's name.</summary>
    public required string Field { get; init; }
}

/// <summary>A field.</summary>
public sealed record RestField : DocumentField
{
    /// <summary>
    /// Where the record keeps it: names joined by dots; ^ at the start reaches the entry around a nested record. Needed unless it is
    /// always the same.
    /// </summary>
    public string? Path { get; init; }

    /// <summary>What the system's codes mean, where the value is such a code.</summary>
    public IReadOnlyDictionary<string, string>? Codes { get; init; }

    /// <inheritdoc/>
    protected override bool Shared => Path?.StartsWith('^') == true;
}

/// <summary>A list within a record. It is read, kept and written together with its record.</summary>
public sealed record RestChildren
{
    /// <summary>Narbit's name for it, e.g. <c>lines</c>.</summary>
    public required string Name { get; init; }

    /// <summary>The name a person reads; the name where missing.</summary>
    public string? Label { get; init; }

    /// <summary>What it means.</summary>
    public ListRole Role { get; init; }

    /// <summary>Where the record keeps it; an object there is a list of one. A list of its own path is put there.</summary>
    public required string Path { get; init; }

    /// <summary>
    /// How it is listed where the record does not hold it: <c>{key}</c> in the path stands for the record's key. It is asked for once for
    /// each record. Null: the record holds it.
    /// </summary>
    public RestList? List { get; init; }

    /// <summary>Whether entries that are written are added to those that are there; otherwise they take their place.</summary>
    public bool Adds { get; init; }

    /// <summary>
    /// Where each entry keeps the entries nested in it, which are read instead: a refund's lines. ^ then reaches the entry around them.
    /// </summary>
    public string? Each { get; init; }

    /// <summary>Whether there is one entry at most, so that it is written as an object and not as a list.</summary>
    public bool Single { get; init; }

    /// <summary>The fields of each entry; ^ at the start of a path reaches the record around it.</summary>
    public required IReadOnlyList<RestField> Fields { get; init; }

    /// <summary>The name under which it is written; null: it is read only.</summary>
    public string? WriteAs { get; init; }
}

/// <summary>
/// How records are created. The system knows idempotency keys, so that a creation without an answer can be sent again; or records can be
/// found by what stands in a field, so that Narbit can ask whether it arrived.
/// </summary>
public sealed record RestCreate : RestChange
{
    /// <summary>A creation, by POST where nothing else is said.</summary>
    public RestCreate() => Method = "POST";

    /// <summary>The name of the parent's key in the body; null: records have no parents.</summary>
    public string? Parent { get; init; }

    /// <summary>Whether parents' keys are numbers in the body.</summary>
    public bool NumericParent { get; init; }

    /// <summary>The name of what sisters share in the body; null: they are told by nothing.</summary>
    public string? Group { get; init; }

    /// <summary>Where a result repeats the idempotency key, for calls that take several records.</summary>
    public string? ResultRequest { get; init; }

    /// <summary>Where a result (of a call that takes one record, the reply) keeps the new record's key.</summary>
    public string? ResultKey { get; init; }

    /// <summary>Whether the new record's key is the last part of the address in the reply's Location header.</summary>
    public bool KeyInLocation { get; init; }

    internal string? FirstFault(RestFind? find, string at)
    {
        if (FirstFault(at) is { } fault)
            return fault;
        if (!Single && (IdempotencyKey is null || ResultRequest is null || ResultKey is null))
            return $"{at}: a call that creates several records needs idempotencyKey, resultRequest and resultKey.";
        if (!MakesOnce && find is null)
            return $"{at}: needs an idempotency key that the system honours (idempotencyKey or idempotencyHeader), or a way to find out "
                + "whether a creation arrived (find); otherwise one without an answer might be made twice.";
        if (!Single)
            return null;
        return ResultKey is null && !KeyInLocation && find is null
            ? $"{at}.resultKey: say where the reply keeps the new record's key, or how the record is found (find)."
            : null;
    }
}

/// <summary>How records are written.</summary>
public sealed record RestWrite : RestChange
{
    /// <summary>A write, by POST where nothing else is said.</summary>
    public RestWrite() => Method = "POST";

    /// <summary>The name of a record's key in its body; null: it stands in the path alone.</summary>
    public string? Key { get; init; }

    /// <summary>Whether keys are numbers in the body.</summary>
    public bool NumericKey { get; init; }

    /// <summary>The name of the flag in the body that ends a record; null: records are not ended that way.</summary>
    public string? End { get; init; }

    /// <summary>A call that ends one record, e.g. DELETE; null: records are not ended that way.</summary>
    public RestEnding? Ending { get; init; }

    /// <summary>Where a result keeps the record's key.</summary>
    public string? ResultKey { get; init; }

    /// <summary>
    /// Whether the system takes a change only of the record as it was read, told by its entity tag (RFC 9110, section 13.1.1: If-Match).
    /// Its lookup is then a path with <c>{key}</c>.
    /// </summary>
    public bool IfMatch { get; init; }

    internal new string? FirstFault(string at) =>
        base.FirstFault(at)
        ?? (
            Single
                ? Key is null && Path?.Contains("{key}", StringComparison.Ordinal) != true
                    ? $"{at}.path: say with {{key}} where the record's key stands, or name it in the body (key)."
                    : null
                : Key is null || ResultKey is null
                    ? $"{at}: a call that takes several records needs key and resultKey."
                    : null
        );
}

/// <summary>A call that ends one record.</summary>
public sealed record RestEnding : RestCall
{
    /// <summary>An ending, by DELETE where nothing else is said.</summary>
    public RestEnding() => Method = "DELETE";
}
