using System.Text.Json;
using System.Text.Json.Serialization;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

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
