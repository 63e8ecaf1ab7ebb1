using Narbit.Adapters.Files;
using Narbit.Core;
using Narbit.Core.Describing;
using Narbit.Core.Records;

namespace Narbit.Adapters.Describing;

/// <summary>Proposes how the files of a system are described, from one of them.</summary>
public static class TableReading
{
    /// <summary>The proposal, or why there is none.</summary>
    /// <param name="content">The file, at its start; it can seek, and is closed at the end.</param>
    /// <param name="name">What it is called.</param>
    /// <param name="form">How it is laid out, where a person has said so; null: found out.</param>
    /// <param name="kind">What it holds, where a person has said so; null: found out.</param>
    public static Outcome<FileProposal> Of(Stream content, string name, TableForm? form = null, RecordKind? kind = null)
    {
        var glance = TableGlance.Of(content, name, form);
        if (glance.Fault is { } fault)
            return fault;
        var table = glance.Value;
        var (found, why) = kind is { } known
            ? (known, "as you say")
            : KindReading.Of(Path.GetFileNameWithoutExtension(name), table.Columns, []);
        var laidOut = new FileResource
        {
            Kind = found,
            Label = KindReading.Words(found),
            File = "",
            Key = "",
            Fields = [],
            Header = table.Form.Header,
            Delimiter = table.Form.Delimiter,
            Encoding = table.Form.Encoding,
        };
        var key = KeyReading.Of(table.Columns);
        var number = key is null && found == RecordKind.Order ? KeyReading.OfRuns(table.Columns) : null;
        if (key is null && number is null)
            return new Reason(
                "sample.noKey",
                $"No column of {name} is different in each of its rows, so nothing can be their key. Give one with other rows."
            );
        var read = number is null ? OneARow(laidOut, table, key!) : SeveralRows(laidOut, table, number);
        return Named(read, name, why);
    }

    private static FileProposal Named(FileProposal read, string name, string why)
    {
        var (file, time) = FileNameReading.Of(name);
        var named = read.Resource with { File = file, Time = time ?? read.Resource.Time };
        var remark = time is null
            ? $"its name says no time: it is one file, “{file}”, that is written over"
            : $"the time stands in its name as {time}";
        // A day's orders come as a file of their own.
        return read with
        {
            Resource = named with { Whole = time is null || named.Kind != RecordKind.Order },
            Remarks = [why, .. read.Remarks, remark],
        };
    }

    private static FileProposal OneARow(FileResource laidOut, TableGlance table, string key)
    {
        var fields = FieldProposals.Of(table.Columns, laidOut.Kind, key);
        var parent = laidOut.Kind == RecordKind.StockLevel ? fields.FirstOrDefault(f => f.Role == FieldRole.Item)?.Path : null;
        return Proposal(laidOut with { Key = key, Parent = parent, Fields = [.. fields.Select(Field)] }, fields, table);
    }

    // Rows under one number are one order: what they share is its own, the rest are its lines.
    private static FileProposal SeveralRows(FileResource laidOut, TableGlance table, SampleColumn number)
    {
        var key = number.Values.Select(v => v!.Value.Text).ToList();
        var firsts = Enumerable.Range(0, key.Count).Where(i => i == 0 || key[i] != key[i - 1]).ToList();
        var inLines = table.Columns.ToLookup(c => IsOfLines(c, key));
        List<SampleColumn> own = [.. inLines[false].Select(c => c with { Values = [.. firsts.Select(i => c.Values[i])] })];
        var fields = FieldProposals.Of(own, laidOut.Kind, number.Path);
        var lines = FieldProposals.Of([.. inLines[true]], RecordKind.Payment, null);
        var taken = new HashSet<FieldRole>();
        List<FieldProposal> meant =
        [
            .. lines.Select(f => f with { Role = ChildrenReading.Role(ListRole.Lines, NameWords.Of(f.Path), taken) }),
        ];
        var resource = laidOut with
        {
            Key = number.Path,
            Fields = [.. fields.Select(Field)],
            Children =
            [
                new FileChildren
                {
                    Name = "lines",
                    Label = "lines",
                    Role = ListRole.Lines,
                    Fields = [.. meant.Select(Field)],
                },
            ],
        };
        var remark = $"rows with the same “{number.Path}” are one order: {firsts.Count} in {key.Count} rows";
        return Proposal(resource, [.. fields, .. meant], table) with { Remarks = [.. table.Remarks, remark] };
    }

    // What stands in a line is its own, whether or not the sample shows two that differ.
    private static bool IsOfLines(SampleColumn column, List<string> key) =>
        ChildrenReading.Role(ListRole.Lines, column.Own, []) is FieldRole.Sku or FieldRole.Quantity || Varies(column, key);

    private static bool Varies(SampleColumn column, List<string> key) =>
        Enumerable.Range(1, key.Count - 1).Any(i => key[i] == key[i - 1] && column.Values[i]?.Text != column.Values[i - 1]?.Text);

    private static FileProposal Proposal(FileResource resource, IReadOnlyList<FieldProposal> fields, TableGlance table) =>
        new()
        {
            Resource = resource,
            Fields = fields,
            Columns = [.. table.Columns.Select(c => c.Path)],
            Remarks = table.Remarks,
            Rows = table.Rows,
        };

    private static FileField Field(FieldProposal proposal) =>
        new()
        {
            Name = proposal.Name,
            Label = proposal.Label,
            Column = proposal.Path,
            Type = proposal.Type,
            Role = proposal.Role,
            List = proposal.List,
            Unit = proposal.Unit,
            Factor = proposal.Factor,
            DecimalMark = proposal.DecimalMark,
            Format = proposal.Format,
            Required = proposal.Required,
        };
}
