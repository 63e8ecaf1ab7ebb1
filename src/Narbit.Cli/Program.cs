using System.Globalization;
using Narbit.Cli;
using Narbit.Engine.Workspaces.Files;

// Files and messages read the same whatever the machine's language is.
CultureInfo.CurrentCulture = CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;

return args switch
{
    ["price", .. var rest] => await CaseFile.RunAsync("price", rest, CaseFile.Price),
    ["stock", .. var rest] => await CaseFile.RunAsync("stock", rest, CaseFile.Stock),
    ["order", .. var rest] => await CaseFile.RunAsync("order", rest, CaseFile.Order),
    ["timetable", .. var rest] => await CaseFile.RunAsync("timetable", rest, CaseFile.Timetable),
    ["replay", .. var rest] => await CaseFile.RunAsync("replay", rest, CaseFile.Replay),
    ["pair", .. var rest] => PairFile.Run(rest),
    ["preview", .. var rest] => PreviewFile.Run(rest),
    ["schema"] or ["schema", "lane"] => Schema(Narbit.Engine.Lanes.LaneFiles.Schema),
    ["schema", "rest-system"] => Schema(Narbit.Adapters.SystemSchema.Rest),
    ["schema", "file-system"] => Schema(Narbit.Adapters.SystemSchema.Files),
    ["schema", var name] when WorkspaceText.Schemas.TryGetValue(name, out var schema) => Schema(schema()),
    ["workspace", .. var rest] => await WorkspaceFolder.RunAsync(rest),
    _ => Usage(),
};

// A schema, as docs/schemas publishes it.
static int Schema(string schema)
{
    Console.Out.Write(schema);
    return 0;
}

static int Usage()
{
    Console.Error.WriteLine(
        "usage: narbit price|stock|order|timetable|replay --in cases.jsonl --out results.jsonl\n       "
            + "narbit pair --left a.csv --right b.csv --out pairs.csv\n       "
            + "narbit preview --lane lane.json --left a.csv --right b.csv --out changes.csv\n       narbit schema "
            + "[lane|rest-system|file-system|workspace|workspace-lane|workspace-job|workspace-pairs]\n       "
            + WorkspaceFolder.Usage
    );
    return 2;
}
