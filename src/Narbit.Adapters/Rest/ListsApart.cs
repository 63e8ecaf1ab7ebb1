using System.Text.Json;
using System.Text.Json.Nodes;
using Narbit.Core;

namespace Narbit.Adapters.Rest;

/// <summary>
/// Lists that belong to records but stand at paths of their own. They are asked for with their records and put into them, so that all that
/// reads a record finds it whole.
/// </summary>
/// <param name="document">The description.</param>
/// <param name="transport">Who asks.</param>
internal sealed class ListsApart(RestDocument document, RestTransport transport)
{
    // A list that goes on for longer than any order has lines is one that never ends.
    private const int MostPages = 1000;

    /// <summary>The entries with their lists in them, or why one could not be read.</summary>
    public async Task<Outcome<List<JsonElement>>> IntoAsync(ResourceReader resource, List<JsonElement> entries, CancellationToken cancel)
    {
        var apart = resource.Document.Children.Where(c => c.List is not null).ToList();
        if (apart.Count == 0)
            return entries;
        var whole = await Task.WhenAll(entries.Select(e => WholeAsync(resource, apart, e, cancel)));
        return Array.Find(whole, w => w.Fault is not null) is { Fault: { } fault } ? fault : whole.Select(w => w.Value).ToList();
    }

    private async Task<Outcome<JsonElement>> WholeAsync(
        ResourceReader resource,
        List<RestChildren> apart,
        JsonElement entry,
        CancellationToken cancel
    )
    {
        if (entry.ValueKind != JsonValueKind.Object || resource.KeyOf(entry) is not { } key)
            return entry;
        var record = JsonObject.Create(entry)!;
        foreach (var child in apart)
        {
            var list = await ListAsync(resource, child, key, cancel);
            if (list.Fault is { } fault)
                return fault;
            record[child.Path] = list.Value;
        }

        return JsonSerializer.SerializeToElement(record);
    }

    private async Task<Outcome<JsonArray>> ListAsync(ResourceReader resource, RestChildren child, string key, CancellationToken cancel)
    {
        var all = new JsonArray();
        string? cursor = null;
        for (var pages = 0; pages < MostPages; pages++)
        {
            var page = new ListPage(child.List!, cursor, of: key);
            var reply = await transport.SendAsync(page.Request(document.Limits.Attempts), cancel);
            // A record without such a list may have no such path.
            if (reply.Fault is { Code: "notFound" } && cursor is null)
                return all;
            if (reply.Fault is { } fault)
                return fault;
            using var content = reply.Value;
            var found = ResourceReader.Entries(new JsonAt(child.List!.Records), content.Root);
            if (found is null && document.Replies != ReplyForm.Xml)
                return new Reason(
                    "noList",
                    $"{document.Name} answered for {resource.Document.Label} {key}, but without the list “{child.List.Records}” "
                        + $"that its description names for {child.Label ?? child.Name}."
                );
            foreach (var entry in found ?? [])
                all.Add(JsonNode.Parse(entry.GetRawText()));
            var next = page.Next(content, found ?? [], null, transport.Base);
            if (next.Fault is { } elsewhere)
                return elsewhere with { Words = $"{document.Name}: {elsewhere.Words}" };
            if (next.Value.Cursor is null)
                return all;
            cursor = next.Value.Cursor;
        }

        return new Reason(
            "read.endless",
            $"{document.Name} goes on with {child.Label ?? child.Name} of {resource.Document.Label} {key} after {MostPages} pages."
        );
    }
}
