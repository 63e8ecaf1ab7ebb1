using System.Text.Json;
using Narbit.Adapters.Rest;
using Narbit.Core;

namespace Narbit.Adapters.Describing;

/// <summary>
/// Calls a system that is not described yet: reads a list, and finds out by asking again how it goes on and how one record is read. Nothing
/// is written.
/// </summary>
/// <param name="document">What is known of it: its name, how to sign in.</param>
/// <param name="address">Its address.</param>
/// <param name="credential">How to sign in, or null.</param>
/// <param name="outbound">What may be reached.</param>
/// <param name="clock">The time.</param>
public sealed class SystemProbe(RestDocument document, Uri address, Credential? credential, OutboundPolicy outbound, TimeProvider clock)
{
    private static readonly ReplyForm[] Forms = [ReplyForm.Json, ReplyForm.Xml, ReplyForm.Csv];

    private static readonly (RestPaging Paging, string Name)[] Pages =
    [
        (RestPaging.Page, "page"),
        (RestPaging.Offset, "offset"),
        (RestPaging.Offset, "skip"),
        (RestPaging.Offset, "start"),
        (RestPaging.Offset, "from"),
        (RestPaging.Page, "p"),
    ];

    // What names a page in the path that was called: it belongs to the list's paging and not to its path.
    private sealed record PageName(string Name, int First, string Path)
    {
        public static (RestList Bare, PageName? Named) TakenFrom(RestList list)
        {
            if (list.Path?.Split('?', 2) is not [var path, var query])
                return (list, null);
            var parts = query.Split('&').ToList();
            foreach (var (_, name) in Pages)
            {
                var at = parts.FindIndex(p => p.StartsWith(name + "=", StringComparison.Ordinal));
                if (at < 0 || !int.TryParse(parts[at][(name.Length + 1)..], out var first))
                    continue;
                parts.RemoveAt(at);
                return (list with { Path = parts.Count == 0 ? path : $"{path}?{string.Join('&', parts)}" }, new(name, first, list.Path));
            }

            return (list, null);
        }

        public RestList PutBack(RestList list) => list with { Path = Path };
    }

    private static readonly string[] Sizes = ["limit", "per_page", "page_size", "pageSize", "size", "count", "first", "take"];

    private static readonly (string Name, string[] Parameters)[] Cursors =
    [
        ("next", ["cursor", "after", "page_token", "next"]),
        ("next_cursor", ["cursor", "after"]),
        ("nextCursor", ["cursor", "after"]),
        ("endCursor", ["after", "cursor"]),
        ("cursor", ["cursor", "after"]),
        ("next_page_token", ["page_token", "pageToken"]),
        ("nextPageToken", ["pageToken", "page_token"]),
        ("after", ["after", "cursor"]),
        ("continuation", ["continuation", "cursor"]),
    ];

    /// <summary>A proposal for a list, from what the system answers.</summary>
    /// <param name="list">The call: its path, and its body where it is asked for by POST.</param>
    /// <param name="known">What is known of the list already; null: nothing.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<ResourceProposal>> ListAsync(RestList list, RestResource? known, CancellationToken cancel)
    {
        list = GraphVariables.Fill(list);
        var (bare, named) = PageName.TakenFrom(list);
        foreach (var form in Forms)
        {
            using var transport = new RestTransport(document with { Replies = form }, address, credential, outbound, clock);
            var reply = await CallAsync(transport, list, [], cancel);
            if (reply.Fault is { Code: "notJson" } && form != Forms[^1])
                continue;
            if (reply.Fault is { } fault)
                return fault;
            using var content = reply.Value;
            var read = ResourceReading.Of(list.Path ?? "", content.Root, known);
            if (read.Fault is { } unread)
                return unread;
            var proposed = Named(read.Value, bare) with { Replies = form };
            return await GoesOnAsync(transport, await OneAsync(transport, proposed, content.Root, cancel), content, named, cancel);
        }

        throw new InvalidOperationException("There is always a last form.");
    }

    private static ResourceProposal Named(ResourceProposal proposal, RestList call) =>
        proposal with
        {
            Resource = proposal.Resource with
            {
                List = call with { Records = proposal.Resource.List.Records, Each = proposal.Resource.List.Each },
            },
        };

    /// <summary>The contract that stands at an address, as text.</summary>
    /// <param name="path">Its path below the address.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<string>> ContractAsync(string path, CancellationToken cancel)
    {
        using var transport = new RestTransport(document, address, credential, outbound, clock);
        var reply = await transport.SendAsync(Request("GET", path) with { AsText = true }, cancel);
        if (reply.Fault is { } fault)
            return fault;
        using var content = reply.Value;
        return content.Root.GetString()!;
    }

    /// <summary>A proposal for a list at a path of its own, from what the system answers for its first records.</summary>
    /// <param name="resource">The records.</param>
    /// <param name="inside">The list within them.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<InsideProposal>> InsideAsync(RestResource resource, RestChildren inside, CancellationToken cancel)
    {
        using var transport = new RestTransport(document, address, credential, outbound, clock);
        return await new InsideProbe(transport).OfAsync(resource, inside, cancel);
    }

    // One record is read by the list's path and its key, if there is such a path.
    private static async Task<ResourceProposal> OneAsync(
        RestTransport transport,
        ResourceProposal proposal,
        JsonElement root,
        CancellationToken cancel
    )
    {
        var resource = proposal.Resource;
        if (resource.Lookup is not null || resource.List.Body is not null)
            return proposal;
        var entry = new JsonAt(resource.List.Records).AllIn(root).FirstOrDefault();
        var first = resource.List.Each is { } each ? new JsonAt(each).AllIn(entry).FirstOrDefault() : entry;
        if (new JsonAt(resource.Key).TextIn(first) is not { } key)
            return proposal;
        var lookup = new RestLookup { Path = resource.List.Path!.Split('?')[0].TrimEnd('/') + "/{key}" };
        var reply = await transport.SendAsync(Request(lookup.Method, new RestBody(lookup).Path(key)), cancel);
        if (reply.Fault is not null)
            return proposal;
        using var content = reply.Value;
        return Holder(content.Root, resource.Key, key) is { } at
            ? proposal with
            {
                Resource = resource with { Lookup = lookup with { Records = at } },
                Remarks = [.. proposal.Remarks, $"one record is read at {lookup.Path}: asked for {key}, and it came"],
            }
            : proposal;
    }

    // Where a reply has the record with a key: at its top, or under a single name.
    private static string? Holder(JsonElement root, string keyPath, string key)
    {
        if (new JsonAt(keyPath).TextIn(root) == key)
            return "";
        return root.ValueKind == JsonValueKind.Object
            ? root.EnumerateObject().Where(p => new JsonAt(keyPath).TextIn(p.Value) == key).Select(p => p.Name).FirstOrDefault()
            : null;
    }

    private static async Task<ResourceProposal> GoesOnAsync(
        RestTransport transport,
        ResourceProposal proposal,
        RestReply first,
        PageName? named,
        CancellationToken cancel
    )
    {
        var list = proposal.Resource.List;
        var total = Counted(first.Root, ["total", "totalCount", "total_count", "totalResults", "count", "@count", "@total"]);
        list = list with { TotalPath = list.TotalPath ?? total };
        if (first.Link?.Contains("next", StringComparison.OrdinalIgnoreCase) == true)
            return Going(proposal, list with { Paging = RestPaging.Link }, "the reply's Link header leads to the next page");
        if (list.Body is not null && list.Paging != RestPaging.None)
            return Going(proposal, AfterCursor(list, first.Root), "the variables of its query say how it goes on");
        if (list.Body is not null || proposal.Entries < 2)
            return Going(proposal, list, "how it goes on was not looked into: say it below");
        var keys = Entries(first.Root, list);
        if (await CursorAsync(transport, list, first.Root, keys, cancel) is var (cursor, said))
            return Going(proposal, await SizedAsync(transport, cursor, keys, cancel), said);
        foreach (var (paging, name) in Pages.OrderByDescending(p => p.Name == named?.Name))
        {
            var firstPage = name == named?.Name && paging == RestPaging.Page ? named.First : 1;
            var second = paging == RestPaging.Page ? firstPage + 1 : keys.Count;
            var other = await KeysAsync(
                transport,
                list,
                [(name, second.ToString(System.Globalization.CultureInfo.InvariantCulture))],
                cancel
            );
            if (other is not { Count: > 0 } || other.Intersect(keys).Any())
                continue;
            var paged = list with
            {
                Paging = paging,
                PageParameter = name,
                FirstPage = firstPage,
                Size = Math.Max(1, keys.Count),
                PagesPath =
                    paging == RestPaging.Page
                        ? Counted(first.Root, ["pages", "totalPages", "total_pages", "pageCount", "last_page"])
                        : null,
            };
            var sized = await SizedAsync(transport, paged, keys, cancel);
            return Going(proposal, sized, $"with “{name}” other records come: {Word(paging)}");
        }

        return Going(proposal, named?.PutBack(list) ?? list, NoOther(list, first.Root, keys.Count));
    }

    private static string NoOther(RestList list, JsonElement root, int came) =>
        new JsonAt(list.TotalPath).TextIn(root) is { } said && int.TryParse(said, out var total) && total > came
            ? $"it says that it has {total}, of which {came} came; no other page was found: say below how it goes on"
            : "no other page was found: it seems to come in one reply";

    private static RestList AfterCursor(RestList list, JsonElement root) =>
        list.Paging == RestPaging.Cursor ? list with { NextPath = list.NextPath ?? Counted(root, [.. Cursors.Select(c => c.Name)]) } : list;

    private static string Word(RestPaging paging) => paging == RestPaging.Page ? "pages are numbered" : "pages begin after so many entries";

    private static ResourceProposal Going(ResourceProposal proposal, RestList list, string why) =>
        proposal with
        {
            Resource = proposal.Resource with { List = list },
            Remarks = [.. proposal.Remarks, why],
        };

    private static async Task<(RestList List, string Why)?> CursorAsync(
        RestTransport transport,
        RestList list,
        JsonElement root,
        List<string> keys,
        CancellationToken cancel
    )
    {
        foreach (var (name, parameters) in Cursors)
        {
            if (Counted(root, [name]) is not { } at || new JsonAt(at).TextIn(root) is not { Length: > 0 } next)
                continue;
            foreach (var parameter in parameters)
                if (await KeysAsync(transport, list, [(parameter, next)], cancel) is { Count: > 0 } other && !other.Intersect(keys).Any())
                    return (
                        list with
                        {
                            Paging = RestPaging.Cursor,
                            PageParameter = parameter,
                            NextPath = at,
                        },
                        $"“{at}” in the reply, sent as “{parameter}”, brings other records"
                    );
        }

        return null;
    }

    // Whoever can ask for two entries can ask for many.
    private static async Task<RestList> SizedAsync(RestTransport transport, RestList list, List<string> keys, CancellationToken cancel)
    {
        if (keys.Count < 3)
            return list;
        foreach (var name in Sizes)
            if (await KeysAsync(transport, list, [(name, "2")], cancel) is { Count: 2 } two && two.SequenceEqual(keys.Take(2)))
            {
                var many = await KeysAsync(transport, list, [(name, "100")], cancel);
                return list with { SizeParameter = name, Size = Math.Max(keys.Count, many?.Count ?? 0) };
            }

        return list;
    }

    private static async Task<List<string>?> KeysAsync(
        RestTransport transport,
        RestList list,
        IReadOnlyList<(string Name, string Value)> parameters,
        CancellationToken cancel
    )
    {
        var reply = await CallAsync(transport, list, parameters, cancel);
        if (reply.Fault is not null)
            return null;
        using var content = reply.Value;
        return Entries(content.Root, list);
    }

    // Entries are told apart by all that is in them where their key is not known.
    private static List<string> Entries(JsonElement root, RestList list) =>
        [.. new JsonAt(list.Records).AllIn(root).Select(e => e.GetRawText())];

    private static async Task<Outcome<RestReply>> CallAsync(
        RestTransport transport,
        RestList list,
        IReadOnlyList<(string Name, string Value)> parameters,
        CancellationToken cancel
    )
    {
        var body = new RestBody(list);
        if (list.Body is not null)
            body.Say(list.SizeParameter, list.Size);
        foreach (var (name, value) in parameters)
            body.Say(name, value);
        return await transport.SendAsync(Request(list.Method, body.Path(), body.Content()), cancel);
    }

    private static RestRequest Request(string method, string path, ReadOnlyMemory<byte> body = default) =>
        new()
        {
            Method = new HttpMethod(method),
            Path = path,
            Body = body,
            Attempts = 2,
        };

    // The path of the first of some names outside of lists.
    private static string? Counted(JsonElement root, string[] names)
    {
        var paths = SampleTree.Columns([root]).Select(c => c.Path).ToList();
        return names
            .Select(n => paths.Find(p => p.Split('.')[^1].Equals(n, StringComparison.OrdinalIgnoreCase)))
            .FirstOrDefault(p => p is not null);
    }
}
