using System.Globalization;
using System.Text;
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
    private readonly string _out;
    private readonly string _in;
    private readonly string _done;
    private readonly TimeProvider _clock;
    private readonly ITimer _timer;
    private readonly Lock _gate = new();
    private DateTimeOffset _last;

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

    public TillFolders(StoreState state, string folder, TimeProvider clock)
    {
        _state = state;
        _clock = clock;
        Folder = folder;
        _out = Path.Combine(folder, "out");
        _in = Path.Combine(folder, "in");
        _done = Path.Combine(folder, "in", "done");
        foreach (var f in new[] { _out, _in, _done })
            Directory.CreateDirectory(f);
        state.Changed += Export;
        Export();
        _timer = clock.CreateTimer(_ => TakeIn(), null, Looks, Looks);
    }

    public string Folder { get; }

    /// <summary>Whether the till takes anything in; a person may have switched it off.</summary>
    public bool On { get; set; } = true;

    public void Dispose()
    {
        _timer.Dispose();
        _state.Changed -= Export;
    }

    private void Export()
    {
        lock (_gate)
        {
            var text = new StringBuilder("PLU;Code;Article;EAN;Price;Stock;Group\r\n");
            _state.Read(
                0,
                int.MaxValue,
                null,
                (listings, _) =>
                {
                    foreach (var l in listings)
                        text.AppendJoin(
                                ';',
                                new[]
                                {
                                    l.Id,
                                    l.Sku,
                                    l.Title,
                                    l.Barcode,
                                    l.Price.ToString("0.00", CultureInfo.InvariantCulture).Replace('.', ','),
                                    l.Quantity.ToString(CultureInfo.InvariantCulture),
                                    l.Category,
                                }.Select(Cell)
                            )
                            .Append("\r\n");
                    return 0;
                }
            );
            // Each file has a second of its own, so that the newest is told by its name.
            var now = _clock.GetUtcNow();
            _last = new DateTimeOffset(
                Math.Max(
                    now.UtcTicks / TimeSpan.TicksPerSecond * TimeSpan.TicksPerSecond,
                    _last.UtcTicks + (_last == default ? 0 : TimeSpan.TicksPerSecond)
                ),
                TimeSpan.Zero
            );
            var path = Path.Combine(_out, $"articles_{_last.UtcDateTime.ToString("yyyyMMdd-HHmmss", CultureInfo.InvariantCulture)}.csv");
            File.WriteAllBytes($"{path}.part", Encoding.GetEncoding(1252).GetBytes(text.ToString()));
            File.Move($"{path}.part", path, overwrite: true);
        }
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

    private static string Cell(string text) =>
        text.AsSpan().IndexOfAny(";\"\r\n") >= 0 ? $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : text;
}
