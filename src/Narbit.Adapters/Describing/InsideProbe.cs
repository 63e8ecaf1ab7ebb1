using System.Text.Json;
using Narbit.Adapters.Rest;
using Narbit.Core;

namespace Narbit.Adapters.Describing;

/// <summary>A proposal for a list of its own path within records.</summary>
/// <param name="Inside">The list.</param>
/// <param name="Entries">How many entries were looked at.</param>
/// <param name="Records">Of how many records.</param>
public sealed record InsideProposal(RestChildren Inside, int Entries, int Records);

/// <summary>Calls a list at a path of its own for the first records, and proposes how its entries are described.</summary>
/// <param name="transport">Who asks.</param>
internal sealed class InsideProbe(RestTransport transport)
{
    private const int MostRecords = 10;

    /// <summary>The proposal, or why there is none.</summary>
    /// <param name="resource">The records, as described.</param>
    /// <param name="inside">The list within them.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<InsideProposal>> OfAsync(RestResource resource, RestChildren inside, CancellationToken cancel)
    {
        var keys = await KeysAsync(resource, cancel);
        if (keys.Fault is { } fault)
            return fault;
        var entries = new List<JsonElement>();
        var asked = 0;
        var list = inside.List!;
        foreach (var key in keys.Value)
        {
            var reply = await transport.SendAsync(new ListPage(list, null, of: key).Request(attempts: 2), cancel);
            asked++;
            if (reply.Fault is { Code: "notFound" })
                continue;
            if (reply.Fault is { } unread)
                return unread;
            using var content = reply.Value;
            if (SampleTree.Lists(content.Root).FirstOrDefault() is not { } found)
                continue;
            list = list with { Records = found.Path, Paging = Going(list, reply.Value) };
            entries.AddRange(found.Entries.Select(e => e.Clone()));
            if (entries.Count >= SampleTree.MostEntries)
                break;
        }

        if (entries.Count == 0)
            return new Reason(
                "sample.noList",
                $"None of the first {asked} records has such a list at {list.Path}. Look at the path, or describe it by hand."
            );
        var proposed = ChildrenReading.Of(new SampleList(inside.Path, entries));
        var role = inside.Role == default ? proposed.Role : inside.Role;
        return new InsideProposal(inside with { List = list, Role = role, Fields = proposed.Fields }, entries.Count, asked);
    }

    private static RestPaging Going(RestList list, RestReply reply) =>
        reply.Link?.Contains("next", StringComparison.OrdinalIgnoreCase) == true ? RestPaging.Link : list.Paging;

    private async Task<Outcome<List<string>>> KeysAsync(RestResource resource, CancellationToken cancel)
    {
        var reply = await transport.SendAsync(new ListPage(resource.List, null).Request(attempts: 2), cancel);
        if (reply.Fault is { } fault)
            return fault;
        using var content = reply.Value;
        var key = new JsonAt(resource.Key);
        return new JsonAt(resource.List.Records).AllIn(content.Root).Select(e => key.TextIn(e)).OfType<string>().Take(MostRecords).ToList();
    }
}
