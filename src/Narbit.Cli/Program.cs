using System.Globalization;
using Narbit.Cli;

// Files and messages read the same whatever the machine's language is.
CultureInfo.CurrentCulture = CultureInfo.DefaultThreadCurrentCulture = CultureInfo.InvariantCulture;

return args switch
{
    ["price", .. var rest] => await CaseFile.RunAsync("price", rest, CaseFile.Price),
    ["stock", .. var rest] => await CaseFile.RunAsync("stock", rest, CaseFile.Stock),
    ["order", .. var rest] => await CaseFile.RunAsync("order", rest, CaseFile.Order),
    ["pair", .. var rest] => PairFile.Run(rest),
    ["preview", .. var rest] => PreviewFile.Run(rest),
    ["schema"] => Schema(),
    _ => Usage(),
};

// The schema of lane files, as docs/schemas publishes it.
static int Schema()
{
    Console.Out.Write(Narbit.Engine.Lanes.LaneFiles.Schema);
    return 0;
}

static int Usage()
{
    Console.Error.WriteLine(
        "usage: narbit price|stock|order --in cases.jsonl --out results.jsonl\n       narbit pair --left a.csv --right b.csv --out "
            + "pairs.csv\n       narbit preview --lane lane.json --left a.csv --right b.csv --out changes.csv\n       narbit schema"
    );
    return 2;
}
