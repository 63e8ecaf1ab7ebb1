using System.Runtime.InteropServices;
using System.Text.Json;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>Proposes how a list is described, from a reply with some of its records.</summary>
public static class ResourceReading
{
    // As deep as replies are read.
    private const int Deepest = 2 * XmlTree.Deepest;

    /// <summary>The proposal, or why there is none.</summary>
    /// <param name="path">The path that was called.</param>
    /// <param name="reply">What came.</param>
    /// <param name="known">What is known of the list already (its kind, what can be written), from its contract; null: nothing.</param>
    public static Outcome<ResourceProposal> Of(string path, JsonElement reply, RestResource? known = null)
    {
        var text = JsonText.Whole(JsonMarshal.GetRawUtf8Value(reply).ToArray());
        using var whole = JsonDocument.Parse(text, new JsonDocumentOptions { MaxDepth = Deepest });
        return OfWhole(path, whole.RootElement, known);
    }

    private static Outcome<ResourceProposal> OfWhole(string path, JsonElement reply, RestResource? known)
    {
        var lists = SampleTree.Lists(reply);
        if (lists.Count == 0)
            return Nothing(reply);
        var list = lists.Find(l => l.Path == known?.List.Records) ?? lists[0];
        var nested = SampleTree.Nested(list.Entries);
        var outer = SampleTree.Columns(list.Entries);
        if (outer.Count >= SampleTree.MostColumns)
            return new Reason(
                "sample.keys",
                "Its records have hundreds of different names, as if keys stood for names. Give a smaller part of it, or describe it "
                    + "by hand."
            );
        var (kind, why) = known is null
            ? KindReading.Of($"{path}.{list.Path}", outer, [.. nested.Select(n => n.Path)])
            : (known.Kind, "as it was");
        var each = kind == RecordKind.Item ? Variants(outer, nested) : null;
        var columns = each is null ? outer : [.. SampleTree.Columns([.. each.Entries.Take(SampleTree.MostEntries)]), .. Around(list, each)];
        if (KeyReading.Of(each is null ? columns : columns.FindAll(c => !c.Path.StartsWith('^'))) is not { } key)
            return new Reason(
                "sample.noKey",
                "No field of its records is different in each of them, so nothing can be their key. Give a sample with other records."
            );

        var fields = FieldProposals.Of([.. columns.Select(c => Known(c, known))], kind, key);
        var remarks = Remarks(why, list, each, columns);
        return new ResourceProposal
        {
            Resource = Resource(path, list, each, kind, key, fields, nested, outer, known),
            Fields = fields,
            Remarks = remarks,
            Entries = list.Entries.Count,
            OtherLists = [.. lists.Where(l => l != list).Select(l => l.Path)],
        };
    }

    /// <summary>The proposal from a reply that somebody pasted: JSON, XML or CSV.</summary>
    public static Outcome<ResourceProposal> OfText(string path, string text, RestResource? known = null)
    {
        var bytes = System.Text.Encoding.UTF8.GetBytes(text);
        var form = text.AsSpan().TrimStart() switch
        {
            ['{' or '[', ..] => ReplyForm.Json,
            ['<', ..] => ReplyForm.Xml,
            _ => ReplyForm.Csv,
        };
        try
        {
            using var content = ReplyContent.Read(bytes, form);
            var read = Of(path, content.RootElement, known);
            return read.Fault is { } fault ? fault : read.Value with { Replies = form };
        }
        catch (FormatException unreadable)
        {
            return new Reason(
                "sample.unreadable",
                $"It looks like {form.ToString().ToUpperInvariant()}, but cannot be read: {unreadable.Message}."
            );
        }
    }

    private static Reason Nothing(JsonElement reply)
    {
        var isMap =
            reply.ValueKind == JsonValueKind.Object
            && reply.EnumerateObject().Count() > 2
            && reply.EnumerateObject().All(p => p.Value.ValueKind == JsonValueKind.Object);
        return isMap
            ? new Reason("sample.keys", "It has no list: each record stands under a name of its own. Narbit reads lists only.")
            : new Reason("sample.noList", "It has no list of records. Give the path of a list, e.g. of all products.");
    }

    // What is sold is the inner record where it, and not the one around it, has a code or a price.
    private static SampleList? Variants(List<SampleColumn> outer, List<SampleList> nested)
    {
        if (nested.Count == 0)
            return null;
        var around = FieldProposals.RolesAmong(outer, RecordKind.Item);
        return nested
            .Select(n => (List: n, Roles: RolesOf(n)))
            .Where(n => n.Roles.Contains(FieldRole.Price) || n.Roles.Contains(FieldRole.Barcode))
            .Where(n => n.Roles.Contains(FieldRole.Sku) || n.Roles.Contains(FieldRole.Barcode))
            .Where(n => !(around.Contains(FieldRole.Barcode) && around.Contains(FieldRole.Price)))
            .OrderByDescending(n => n.Roles.Count)
            .Select(n => n.List)
            .FirstOrDefault();
    }

    private static IReadOnlySet<FieldRole> RolesOf(SampleList list) =>
        FieldProposals.RolesAmong(SampleTree.Columns([.. list.Entries.Take(SampleTree.MostEntries)]), RecordKind.Item);

    // The fields around the records, once a record, so that each has as many values as the records' own.
    private static List<SampleColumn> Around(SampleList list, SampleList each)
    {
        var entries = new List<JsonElement>();
        foreach (var entry in list.Entries)
            entries.AddRange(new JsonAt(each.Path).AllIn(entry).Select(_ => entry));
        return SampleTree.Columns([.. entries.Take(SampleTree.MostEntries)], "^");
    }

    private static SampleColumn Known(SampleColumn column, RestResource? known) =>
        known?.Fields.FirstOrDefault(f => f.Path == column.Path) is { } field
            ? column with
            {
                Required = field.Required,
                MaxLength = field.MaxLength,
            }
            : column;

    private static RestResource Resource(
        string path,
        SampleList list,
        SampleList? each,
        RecordKind kind,
        string key,
        IReadOnlyList<FieldProposal> fields,
        List<SampleList> nested,
        List<SampleColumn> outer,
        RestResource? known
    ) =>
        (
            known
            ?? new RestResource
            {
                Kind = kind,
                Label = KindReading.Words(kind),
                List = new RestList { Path = path },
                Key = key,
                Fields = [],
            }
        ) with
        {
            Key = key,
            Parent =
                each is null ? Parent(kind, fields)
                : KeyReading.Of(outer) is { } around ? "^" + around
                : null,
            List = (known?.List ?? new RestList { Path = path }) with { Records = list.Path, Each = each?.Path },
            Fields = [.. fields.Select(f => Field(f, known?.Fields.FirstOrDefault(k => k.Path == f.Path)))],
            Children = kind == RecordKind.Item ? [] : [.. nested.Select(ChildrenReading.Of)],
        };

    private static string? Parent(RecordKind kind, IReadOnlyList<FieldProposal> fields) =>
        kind == RecordKind.StockLevel ? fields.FirstOrDefault(f => f.Role == FieldRole.Item)?.Path : null;

    internal static RestField Field(FieldProposal proposal, RestField? known) =>
        new()
        {
            Name = proposal.Name,
            Label = proposal.Label,
            Path = proposal.Path,
            Type = proposal.Type,
            Role = proposal.Role,
            List = proposal.List,
            Unit = proposal.Unit,
            Factor = proposal.Factor,
            DecimalMark = proposal.DecimalMark,
            Format = proposal.Format,
            Required = proposal.Required,
            MaxLength = proposal.MaxLength,
            WriteAs = known?.WriteAs,
        };

    private static List<string> Remarks(string why, SampleList list, SampleList? each, List<SampleColumn> columns)
    {
        var remarks = new List<string> { why };
        if (each is not null)
            remarks.Add($"what is sold stands in “{each.Path}” of each entry: {each.Entries.Count} in {list.Entries.Count}");
        if (list.Entries.Count == 1)
            remarks.Add("there is a single record in it, which says little; look at every field, or give a sample with more");
        foreach (var mixed in columns.Where(IsMixed).Take(5))
            remarks.Add($"“{mixed.Path}” is a number in some records and text in others; those that do not fit its type will be held");
        return remarks;
    }

    private static bool IsMixed(SampleColumn column) =>
        column.Values.Where(v => v is not null).Select(v => v!.Value.Form).Distinct().Count() > 1;
}
