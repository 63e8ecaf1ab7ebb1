using Microsoft.AspNetCore.Http.HttpResults;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

/// <summary>A list to be looked at: either it is called, or its reply is given.</summary>
internal sealed record ListToPropose
{
    public string? Address { get; init; }

    public RestAuthentication Authentication { get; init; } = new();

    public CredentialEntry? Credential { get; init; }

    public required RestList List { get; init; }

    /// <summary>What is known of the list already; null: nothing.</summary>
    public RestResource? Known { get; init; }

    /// <summary>A reply that somebody pasted; null: the system is called.</summary>
    public string? Reply { get; init; }
}

/// <summary>A list at a path of its own within records.</summary>
internal sealed record InsideToPropose
{
    public string? Address { get; init; }

    public RestAuthentication Authentication { get; init; } = new();

    public CredentialEntry? Credential { get; init; }

    public ReplyForm Replies { get; init; }

    /// <summary>The records.</summary>
    public required RestResource Resource { get; init; }

    /// <summary>The list within them.</summary>
    public required RestChildren Inside { get; init; }
}

/// <summary>A contract: its text, or where it stands.</summary>
internal sealed record ContractToPropose(string? Text, string? Address);

internal sealed record ListToPeek(string Document, string? Address, CredentialEntry? Credential, RecordKind Kind);

internal sealed record PeekedField
{
    public required string Name { get; init; }

    /// <summary>Up to five different canonical values.</summary>
    public required IReadOnlyList<string> Values { get; init; }

    /// <summary>In how many records there is none.</summary>
    public required int Missing { get; init; }

    /// <summary>What is wrong with it in the first record where something is.</summary>
    public required string? Problem { get; init; }

    /// <summary>In how many records something is wrong with it.</summary>
    public required int Problems { get; init; }
}

internal sealed record PeekedList
{
    public required int Records { get; init; }

    public required int? Total { get; init; }

    public required bool GoesOn { get; init; }

    public required IReadOnlyList<string> Keys { get; init; }

    public required IReadOnlyList<PeekedField> Fields { get; init; }

    /// <summary>The entries of the page that could not be kept.</summary>
    public required IReadOnlyList<ShownUnkept> Unkept { get; init; }
}

internal sealed record WriteToTry
{
    public required string Document { get; init; }

    public string? Address { get; init; }

    public CredentialEntry? Credential { get; init; }

    public required RecordKind Kind { get; init; }

    public required string Key { get; init; }

    public required string Field { get; init; }

    public string? Value { get; init; }

    /// <summary>Whether it is only shown what would be sent.</summary>
    public bool ShowOnly { get; init; }
}

/// <summary>Proposes how systems are described, and tries descriptions before they are kept.</summary>
internal static class ProposalsApi
{
    private const string NotYetNamed = "The system";

    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapPost("/propose/list", ListAsync).WithName("proposeList").OnlyLooks();
        systems.MapPost("/propose/inside", InsideAsync).WithName("proposeInside").OnlyLooks();
        systems.MapPost("/propose/contract", ContractAsync).WithName("proposeContract").OnlyLooks();
        systems.MapPost("/peek", PeekAsync).WithName("peekList").OnlyLooks();
        systems.MapPost("/trial", TryAsync).WithName("tryWrite");
        var schemas = api.MapGroup("/schemas").WithTags("Systems");
        schemas.MapGet("/rest-system.json", () => Schema(SystemSchema.Rest)).WithName("restSystemSchema");
        schemas.MapGet("/file-system.json", () => Schema(SystemSchema.Files)).WithName("fileSystemSchema");
    }

    private static ContentHttpResult Schema(string schema) => TypedResults.Text(schema, "application/schema+json");

    private static async Task<Results<Ok<ResourceProposal>, ProblemHttpResult>> ListAsync(
        ListToPropose request,
        AdapterSource adapters,
        GrantDesk grants,
        CancellationToken cancel
    )
    {
        if (request.Reply is { } reply)
            return Answer(ResourceReading.OfText(request.List.Path ?? "", reply, request.Known));
        var known = Unnamed(request.Authentication);
        if (Read(known, request.List) is { } unusable)
            return Problems.Of(unusable);
        var probe = adapters.Probe(known, request.Address ?? "", request.Credential?.Of(grants));
        return probe.Fault is { } fault ? Problems.Of(fault) : Answer(await probe.Value.ListAsync(request.List, request.Known, cancel));
    }

    private static async Task<Results<Ok<InsideProposal>, ProblemHttpResult>> InsideAsync(
        InsideToPropose request,
        AdapterSource adapters,
        GrantDesk grants,
        CancellationToken cancel
    )
    {
        var known = Unnamed(request.Authentication) with { Replies = request.Replies };
        var inside = request.Inside with { Fields = [] };
        var looked = Looked(request.Resource.List) with { Key = request.Resource.Key, Children = [inside] };
        if (inside.List is null)
            return Problems.Of(new Reason("document.invalid", "The list within the records has no path of its own that could be called."));
        if ((known with { Resources = [looked] }).Checked() is { } unusable)
            return Problems.Of(unusable);
        var probe = adapters.Probe(known, request.Address ?? "", request.Credential?.Of(grants));
        return probe.Fault is { } fault ? Problems.Of(fault) : Answer(await probe.Value.InsideAsync(request.Resource, inside, cancel));
    }

    private static async Task<Results<Ok<ContractProposal>, ProblemHttpResult>> ContractAsync(
        ContractToPropose request,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var text = request.Text is { Length: > 0 } given ? given : await FetchedAsync(request.Address ?? "", adapters, cancel);
        return text.Fault is { } fault ? Problems.Of(fault) : Answer(ContractReading.Of(text.Value));
    }

    private static async Task<Outcome<string>> FetchedAsync(string address, AdapterSource adapters, CancellationToken cancel)
    {
        var cut = address.LastIndexOf('/') + 1;
        var probe = adapters.Probe(Unnamed(new RestAuthentication()), address[..cut], null);
        return probe.Fault is { } fault ? fault : await probe.Value.ContractAsync(address[cut..], cancel);
    }

    private static async Task<Results<Ok<PeekedList>, ProblemHttpResult>> PeekAsync(
        ListToPeek request,
        AdapterSource adapters,
        GrantDesk grants,
        CancellationToken cancel
    )
    {
        var made = Made(adapters, request.Document, request.Address, request.Credential?.Of(grants));
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        using var adapter = made.Value;
        return Answer(await PeekedAsync(adapter, request.Kind, cancel));
    }

    /// <summary>The first page of a list as it is described.</summary>
    internal static async Task<Outcome<PeekedList>> PeekedAsync(IAdapter adapter, RecordKind asked, CancellationToken cancel)
    {
        if (adapter.Kinds.FirstOrDefault(k => k.Kind == asked) is not { } kind)
            return new Reason("document.invalid", "The description has no such list.");
        var page = await adapter.ReadPageAsync(kind.ReadWith ?? kind.Kind, null, null, cancel);
        if (page.Fault is { } unread)
            return unread;
        var records = kind.ReadWith is null ? page.Value.Records : page.Value.Beside[kind.Kind];
        return new PeekedList
        {
            Records = records.Count,
            Total = page.Value.Total,
            GoesOn = page.Value.Next is not null,
            Keys = [.. records.Take(20).Select(r => r.Key)],
            Fields = [.. kind.Fields.Fields.Select(f => Peeked(f.Name, records))],
            Unkept = [.. page.Value.Unkept.Take(10).Select(ShownUnkept.Of)],
        };
    }

    private static PeekedField Peeked(string field, IReadOnlyList<ReadRecord> records)
    {
        var problems = records.SelectMany(r => r.Problems).Where(p => p.Field == field).ToList();
        return new PeekedField
        {
            Name = field,
            Values = [.. records.Select(r => r.Values.GetValueOrDefault(field)).OfType<string>().Distinct(StringComparer.Ordinal).Take(5)],
            Missing = records.Count(r => !r.Values.ContainsKey(field)),
            Problem = problems.Count == 0 ? null : problems[0].Message,
            Problems = problems.Count,
        };
    }

    private static async Task<Results<Ok<TrialAnswer>, ProblemHttpResult>> TryAsync(
        WriteToTry request,
        AdapterSource adapters,
        GrantDesk grants,
        CancellationToken cancel
    )
    {
        var made = Made(adapters, request.Document, request.Address, request.Credential?.Of(grants));
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        using var adapter = made.Value;
        if (adapter is not RestAdapter rest)
            return Problems.Of(new Reason("trial.files", "A system that is reached by files is tried by sending one record to it."));
        var trial = new TrialWrite(rest, request.Kind);
        var value = request.Value is { Length: > 0 } given ? given : null;
        return Answer(
            request.ShowOnly
                ? await trial.ShowAsync(request.Key, request.Field, value, cancel)
                : await trial.TryAsync(request.Key, request.Field, value, cancel)
        );
    }

    private static Outcome<IAdapter> Made(AdapterSource adapters, string document, string? address, Credential? credential)
    {
        var read = SystemDocument.Read(document);
        if (read.Fault is { } fault)
            return fault;
        var known = credential is { } entered ? Outcome.Of(entered) : (Outcome<Credential>?)null;
        return adapters.Make(document, address is { Length: > 0 } given ? given : read.Value.Address, known);
    }

    // A list may only lead below the system's address, before it is described as after.
    private static Reason? Read(RestDocument known, RestList list) => (known with { Resources = [Looked(list)] }).Checked();

    private static RestResource Looked(RestList list) =>
        new()
        {
            Kind = RecordKind.Item,
            Label = "records",
            Key = "",
            Fields = [],
            List = list with { Records = list.Records ?? "", Paging = RestPaging.None },
        };

    internal static RestDocument Unnamed(RestAuthentication signIn) =>
        new()
        {
            Format = RestDocument.CurrentFormat,
            Name = NotYetNamed,
            Kind = SystemKind.WebStore,
            Mark = "??",
            Currency = "",
            Address = "",
            Authentication = signIn,
            Limits = new RestLimits { RequestsPerSecond = 5, Attempts = 2 },
            Resources = [],
        };

    internal static Results<Ok<T>, ProblemHttpResult> Answer<T>(Outcome<T> outcome)
        where T : notnull => outcome.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(outcome.Value);
}
