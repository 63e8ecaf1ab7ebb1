using System.Text.Json.Nodes;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>Proposes a description from a system's OpenAPI document.</summary>
public static class ContractReading
{
    // Those whose paths are called like what Narbit keeps in step come first; nobody looks at hundreds.
    private const int MostLists = 60;

    private static readonly string[] SizeNames =
    [
        "limit",
        "per_page",
        "perpage",
        "page_size",
        "pagesize",
        "size",
        "count",
        "take",
        "first",
        "max",
    ];

    private static readonly (RestPaging Paging, string[] Names)[] PageNames =
    [
        (RestPaging.Page, ["page", "page_number", "pagenumber", "p"]),
        (RestPaging.Offset, ["offset", "skip", "start", "from"]),
        (RestPaging.Cursor, ["cursor", "after", "page_token", "pagetoken", "continuation", "next"]),
    ];

    private static readonly string[] SinceNames =
    [
        "updated_after",
        "modified_after",
        "changed_since",
        "updated_since",
        "modified_since",
        "since",
        "updatedafter",
        "changedsince",
        "modifiedsince",
        "updatedsince",
    ];

    private static readonly string[] TestNames = ["ping", "health", "status", "about", "info", "shop", "me", "version"];

    /// <summary>The proposal, or why there is none.</summary>
    /// <param name="text">The document, JSON or YAML.</param>
    public static Outcome<ContractProposal> Of(string text)
    {
        var read = Contract.Read(text);
        if (read.Fault is { } fault)
            return fault;
        var contract = read.Value;
        var fields = new ContractFields(contract);
        var lists = contract
            .Paths.Where(p => !p.Path.Contains('{', StringComparison.Ordinal) && p.Item["get"] is not null)
            .OrderByDescending(p => KindReading.IsNamed(p.Path))
            .Select(p => List(contract, fields, p.Path, p.Item))
            .OfType<ResourceProposal>()
            .Take(MostLists)
            .ToList();
        if (fields.IsTooMuch)
            return new Reason(
                "contract.tooMuch",
                "Its schemas stand for more fields than any list has, as each of many names stands for all of another schema's. Give the "
                    + "part that is about your lists, or describe them by hand."
            );
        if (lists.Count == 0)
            return new Reason("contract.noLists", "None of its paths lists records: there is no GET whose reply has a list of objects.");
        return new ContractProposal
        {
            Name = contract.Title,
            Address = contract.Server,
            Authentication = SignIn(contract.SignIn),
            TestPath = contract
                .Paths.Where(p => p.Item["get"] is not null && !p.Path.Contains('{', StringComparison.Ordinal))
                .Select(p => p.Path.TrimStart('/'))
                .FirstOrDefault(p => NameWords.Of(p.Split('/')[^1]).Any(w => TestNames.Contains(w))),
            Resources = [.. lists.OrderByDescending(l => l.Fields.Count(f => f.Role != FieldRole.None))],
        };
    }

    private static ResourceProposal? List(Contract contract, ContractFields fields, string path, JsonObject item)
    {
        if (contract.Resolve(item["get"]) is not { } get)
            return null;
        if (fields.List(contract.Reply(get, out var response)) is not var (records, entry))
            return null;
        var outer = fields.Columns(entry);
        var nested = fields.Nested(entry);
        var (kind, why) = KindReading.Of($"{path}.{records}", outer, [.. nested.Select(n => n.Path)]);
        var each = kind == RecordKind.Item ? Variants(fields, outer, nested) : null;
        List<SampleColumn> columns = each is null ? outer : [.. fields.Columns(each.Value.Entry), .. fields.Columns(entry, "^")];
        if (columns.Count == 0)
            return null;

        var (lookup, write, keyName) = One(contract, fields, path, columns);
        var key = keyName ?? Key(each is null ? columns : columns.FindAll(c => !c.Path.StartsWith('^')));
        var create = Creation(contract, fields, item, key, write is not null);
        var proposals = FieldProposals.Of(columns, kind, key);
        var writable =
            write is null && create is null
                ? []
                : fields.Writable(WriteSchema(contract, path) ?? contract.Request(contract.Resolve(item["post"]) ?? []));
        return new ResourceProposal
        {
            Resource = new RestResource
            {
                Kind = kind,
                Label = KindReading.Words(kind),
                Key = key,
                Parent = kind == RecordKind.StockLevel ? proposals.FirstOrDefault(f => f.Role == FieldRole.Item)?.Path : null,
                List = Listing(contract, fields, path, item, get, response, records, each?.Path),
                Lookup = lookup,
                Write = write,
                Create = lookup is null ? null : create,
                Fields = [.. proposals.Select(f => Field(f, writable, key))],
            },
            Fields = proposals,
            Remarks = Remarks(why, lookup, write, each?.Path),
        };
    }

    private static RestField Field(FieldProposal proposal, HashSet<string> writable, string key)
    {
        var field = ResourceReading.Field(proposal, null);
        return writable.Contains(proposal.Path) && proposal.Path != key ? field with { WriteAs = proposal.Path } : field;
    }

    private static List<string> Remarks(string why, RestLookup? lookup, RestWrite? write, string? each)
    {
        var remarks = new List<string> { why };
        if (each is not null)
            remarks.Add($"what is sold stands in “{each}” of each entry");
        remarks.Add(
            lookup is null ? "no path for one record, so it can be read only"
            : write is null ? "no way to change a record"
            : $"a record is changed by {write.Method} {write.Path}"
        );
        return remarks;
    }

    private static (string Path, JsonObject Entry)? Variants(
        ContractFields fields,
        List<SampleColumn> outer,
        List<(string Path, JsonObject Entry)> nested
    )
    {
        if (nested.Count == 0)
            return null;
        var around = FieldProposals.RolesAmong(outer, RecordKind.Item);
        if (around.Contains(FieldRole.Price) && around.Contains(FieldRole.Barcode))
            return null;
        return nested
            .Where(n =>
                FieldProposals.RolesAmong(fields.Columns(n.Entry), RecordKind.Item) is var roles
                && roles.Contains(FieldRole.Sku)
                && (roles.Contains(FieldRole.Price) || roles.Contains(FieldRole.Barcode))
            )
            .FirstOrNull();
    }

    private static RestList Listing(
        Contract contract,
        ContractFields fields,
        string path,
        JsonObject item,
        JsonObject get,
        JsonObject? response,
        string records,
        string? each
    )
    {
        var parameters = contract.Parameters(item, get).Where(p => Contract.Text(p["in"]) == "query").ToList();
        JsonObject? Named(string[] names) => parameters.Find(p => names.Contains(Contract.Text(p["name"])?.ToLowerInvariant()));
        var size = Named(SizeNames);
        var list = new RestList
        {
            Path = path.TrimStart('/'),
            Records = records,
            Each = each,
            SizeParameter = Contract.Text(size?["name"]),
            Size = Most(size) ?? 100,
            ChangedSince = Contract.Text(Named(SinceNames)?["name"]),
            TotalPath = Counted(contract, fields, get, "total", "total_count", "totalcount", "count"),
        };
        if ((response?["headers"] as JsonObject)?.Any(h => h.Key.Equals("Link", StringComparison.OrdinalIgnoreCase)) == true)
            return list with { Paging = RestPaging.Link };
        foreach (var (paging, names) in PageNames)
            if (Named(names) is { } parameter)
                return list with
                {
                    Paging = paging,
                    PageParameter = Contract.Text(parameter["name"]),
                    FirstPage = Contract.In(parameter["schema"], "default")?.ToString() == "0" ? 0 : 1,
                    NextPath =
                        paging == RestPaging.Cursor
                            ? Counted(contract, fields, get, "next", "next_cursor", "nextcursor", "cursor", "next_page_token")
                            : null,
                    PagesPath =
                        paging == RestPaging.Page
                            ? Counted(contract, fields, get, "pages", "total_pages", "totalpages", "page_count")
                            : null,
                };
        return list;
    }

    private static int? Most(JsonObject? size) =>
        Contract.In(size?["schema"], "maximum") is JsonValue most && most.TryGetValue<int>(out var number)
            ? Math.Clamp(number, 1, 500)
            : null;

    // Where a reply says how many there are, or what comes next.
    private static string? Counted(Contract contract, ContractFields fields, JsonObject get, params string[] names) =>
        contract.Reply(get, out _) is { } reply
            ? fields.Columns(reply).Select(c => c.Path).FirstOrDefault(p => names.Contains(p.Split('.')[^1].ToLowerInvariant()))
            : null;

    // The path of one record: that of the list, and a single name in braces.
    private static (RestLookup? Lookup, RestWrite? Write, string? Key) One(
        Contract contract,
        ContractFields fields,
        string list,
        List<SampleColumn> columns
    )
    {
        if (PathOfOne(contract, list) is not var (path, item))
            return (null, null, null);
        var name = path[(path.IndexOf('{', StringComparison.Ordinal) + 1)..^1];
        var names = columns.Where(c => !c.Path.StartsWith('^')).Select(c => c.Path.Split('.')[0]).Distinct(StringComparer.Ordinal).ToList();
        var key = columns.Find(c => c.Path == name)?.Path;
        var called = path.TrimStart('/')[..^(name.Length + 2)] + "{key}";
        var get = contract.Resolve(item["get"]);
        var at = get is null ? null : fields.Single(contract.Reply(get, out _), names);
        if (at is null)
            return (null, null, key);
        return (
            new RestLookup { Path = called, Records = at },
            Change(contract, item) is not var (method, call)
                ? null
                : new RestWrite
                {
                    Path = called,
                    Method = method.ToUpperInvariant(),
                    Record = Wrapped(fields, contract.Request(call), names),
                    IdempotencyHeader = KeyHeader(contract, item, call),
                    Ending = item["delete"] is null ? null : new RestEnding { Path = called },
                },
            key
        );
    }

    private static (string Path, JsonObject Item)? PathOfOne(Contract contract, string list) =>
        contract
            .Paths.Where(p => p.Path.StartsWith(list.TrimEnd('/') + "/{", StringComparison.Ordinal) && p.Path.EndsWith('}'))
            .Where(p => p.Path.Count(c => c == '{') == 1)
            .FirstOrNull();

    // What changes one record: the first of the three that there is.
    private static (string Method, JsonObject Call)? Change(Contract contract, JsonObject item)
    {
        foreach (var method in new[] { "patch", "put", "post" })
            if (contract.Resolve(item[method]) is { } call)
                return (method, call);
        return null;
    }

    private static JsonObject? WriteSchema(Contract contract, string list) =>
        PathOfOne(contract, list) is var (_, item) && Change(contract, item) is var (_, call) ? contract.Request(call) : null;

    private static string? Wrapped(ContractFields fields, JsonObject? request, List<string> names) =>
        fields.Single(request, names) is { Length: > 0 } at ? at : null;

    private static RestCreate? Creation(Contract contract, ContractFields fields, JsonObject item, string key, bool known)
    {
        if (!known || contract.Resolve(item["post"]) is not { } post)
            return null;
        var reply = contract.Reply(post, out var response);
        var inHeader = (response?["headers"] as JsonObject)?.Any(h => h.Key.Equals("Location", StringComparison.OrdinalIgnoreCase)) == true;
        var at = fields.Single(reply, [key.Split('.')[0]]);
        var header = KeyHeader(contract, item, post);
        // Without a key of its own a creation that had no answer could not be sent again; a person may say how it is found instead.
        return header is null || (at is null && !inHeader)
            ? null
            : new RestCreate
            {
                Path = PathOf(contract, item),
                IdempotencyHeader = header,
                ResultKey =
                    at is null ? null
                    : at.Length == 0 ? key
                    : $"{at}.{key}",
                KeyInLocation = at is null,
            };
    }

    private static string PathOf(Contract contract, JsonObject item) =>
        contract.Paths.First(p => ReferenceEquals(p.Item, item)).Path.TrimStart('/');

    private static string? KeyHeader(Contract contract, JsonObject path, JsonObject call) =>
        contract
            .Parameters(path, call)
            .Where(p => Contract.Text(p["in"]) == "header")
            .Select(p => Contract.Text(p["name"]))
            .FirstOrDefault(n => n?.Contains("idempot", StringComparison.OrdinalIgnoreCase) == true);

    private static string Key(List<SampleColumn> columns) =>
        (
            columns.Find(c => c is { Around.Count: 0, Own: ["id" or "key" or "uuid" or "guid"] })
            ?? columns.Find(c => c is { Required: true, Own: [.., "id" or "no" or "number" or "nummer" or "nr" or "code" or "sku"] })
            ?? columns.Find(c => c.Required == true)
            ?? columns[0]
        ).Path;

    private static RestAuthentication SignIn(JsonObject? scheme) =>
        (Contract.Text(scheme?["type"]), Contract.Text(scheme?["in"]), Contract.Text(scheme?["scheme"])?.ToLowerInvariant()) switch
        {
            ("apiKey", "header", _) => new RestAuthentication { Scheme = RestScheme.Header, Header = Contract.Text(scheme!["name"]) },
            ("apiKey", "query", _) => new RestAuthentication { Scheme = RestScheme.Query, Parameter = Contract.Text(scheme!["name"]) },
            ("http", _, "basic") => new RestAuthentication { Scheme = RestScheme.Basic },
            ("http", _, "bearer") => new RestAuthentication { Scheme = RestScheme.Bearer },
            ("oauth2", _, _) when Contract.In(scheme!["flows"], "clientCredentials") is JsonObject flow => new RestAuthentication
            {
                Scheme = RestScheme.ClientCredentials,
                Token = Contract.Text(flow["tokenUrl"]),
                Scope = flow["scopes"] is JsonObject { Count: > 0 } scopes ? string.Join(' ', scopes.Select(s => s.Key)) : null,
            },
            _ => new RestAuthentication(),
        };
}
