using System.Globalization;
using System.Text;
using Narbit.Sandbox.Orders;
using Narbit.Sandbox.Stores;

namespace Narbit.Sandbox.Till;

/// <summary>
/// The till's side of its two folders: it writes its articles into <c>out</c> as semicolon-separated Windows-1252 text with a comma for
/// the decimal mark,
/// and takes what is dropped into <c>in</c>. It writes anew after each change.
/// </summary>
public sealed class TillFolders : IDisposable
{
    private static readonly TimeSpan Looks = TimeSpan.FromMilliseconds(150);
    private readonly StoreState _state;
    private readonly OutFolder _articles;
    private readonly TillSales _sales;
    private readonly string _in;
    private readonly string _done;
    private readonly ITimer _timer;

    /// <summary>What the till asks of an article: a name of at most 24 characters. Numbers are given by whoever sends them.</summary>
    public static StoreWays Ways { get; } =
        new(
            _ => throw new NotSupportedException("The till gives no numbers."),
            l =>
                l.Title.Length == 0 ? "No name."
                : l.Title.Length > 24 ? "The name is longer than 24 characters."
                : null
        );

    static TillFolders() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    public TillFolders(StoreState state, StoreOrders sales, string folder, TimeProvider clock)
    {
        _state = state;
        Folder = folder;
        var @out = Path.Combine(folder, "out");
        _in = Path.Combine(folder, "in");
        _done = Path.Combine(folder, "in", "done");
        foreach (var f in new[] { @out, _in, _done })
            Directory.CreateDirectory(f);
        _articles = new OutFolder(@out, clock);
        state.Changed += Export;
        Export();
        _sales = new TillSales(sales, new OutFolder(@out, clock));
        _timer = clock.CreateTimer(_ => TakeIn(), null, Looks, Looks);
    }

    public string Folder { get; }

    /// <summary>Whether the till takes anything in; a person may have switched it off.</summary>
    public bool On { get; set; } = true;

    public void Dispose()
    {
        _timer.Dispose();
        _sales.Dispose();
        _state.Changed -= Export;
    }

    private void Export() => _articles.Write("articles", Articles);

    private string Articles()
    {
        var text = new StringBuilder("PLU;Code;Article;EAN;Price;Stock;Group\r\n");
        return _state.Read(
            0,
            int.MaxValue,
            null,
            (listings, _) =>
            {
                foreach (var l in listings)
                    text.Append(
                        OutFolder.Line(
                            l.Id,
                            l.Sku,
                            l.Title,
                            l.Barcode,
                            OutFolder.Amount(l.Price),
                            l.Quantity.ToString(CultureInfo.InvariantCulture),
                            l.Category
                        )
                    );
                return text.ToString();
            }
        );
    }

    private void TakeIn()
    {
        if (!On || !Monitor.TryEnter(_timer))
            return;
        try
        {
            foreach (var path in Directory.EnumerateFiles(_in, "update_*.csv").Order(StringComparer.Ordinal).ToList())
            {
                var lines = File.ReadAllLines(path, Encoding.GetEncoding(1252));
                var columns = lines.Length == 0 ? [] : lines[0].Split(';');
                var edits = lines
                    .Skip(1)
                    .Select(Cells)
                    .Where(c => c.Length == columns.Length && columns.Length > 0)
                    .Select(cells =>
                    {
                        string? Value(string column) =>
                            Array.IndexOf(columns, column) is >= 0 and var at && cells[at].Length > 0 ? cells[at] : null;
                        var plu = Value("PLU") ?? "";
                        var content = new ListingContent(Value("Article"), null, Value("Group"));
                        return new ListingEdit
                        {
                            Key = $"{Path.GetFileName(path)}:{cells[0]}",
                            Id = plu,
                            Price = Value("Price") is { } price
                                ? decimal.Parse(price.Replace(',', '.'), CultureInfo.InvariantCulture)
                                : null,
                            Quantity = Value("Stock") is { } stock ? int.Parse(stock, CultureInfo.InvariantCulture) : null,
                            Sku = Value("Code"),
                            Barcode = Value("EAN"),
                            Content = content == new ListingContent(null) ? null : content,
                            New = _state.Find([plu], found => found.Count) == 0 ? new NewListing(null) : null,
                        };
                    })
                    .ToList();
                File.Move(path, Path.Combine(_done, Path.GetFileName(path)), overwrite: true);
                _state.Edit(edits);
            }
        }
        catch (Exception error) when (error is IOException or FormatException or UnauthorizedAccessException)
        {
            // A file that is not ready or not readable is looked at again the next time.
        }
        finally
        {
            Monitor.Exit(_timer);
        }
    }

    // A line of cells, quoted where they hold a semicolon or a quote.
    private static string[] Cells(string line)
    {
        var cells = new List<string>();
        var cell = new StringBuilder();
        var quoted = false;
        for (var i = 0; i < line.Length; i++)
        {
            if (quoted && line[i] == '"' && i + 1 < line.Length && line[i + 1] == '"')
                cell.Append(line[++i]);
            else if (line[i] == '"')
                quoted = !quoted;
            else if (line[i] == ';' && !quoted)
                Flush();
            else
                cell.Append(line[i]);
        }

        Flush();
        return [.. cells];

        void Flush()
        {
            cells.Add(cell.ToString());
            cell.Clear();
        }
    }
}
