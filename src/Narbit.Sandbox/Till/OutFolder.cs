using System.Globalization;
using System.Text;

namespace Narbit.Sandbox.Till;

/// <summary>A folder into which the till writes: each file complete at once, with a time in its name that is its own.</summary>
public sealed class OutFolder(string folder, TimeProvider clock)
{
    private readonly Lock _gate = new();
    private DateTimeOffset _last;

    /// <summary>Writes a file of Windows-1252 text.</summary>
    /// <param name="name">What stands before the time.</param>
    /// <param name="text">Makes the text, once it is this file's turn.</param>
    public void Write(string name, Func<string> text)
    {
        lock (_gate)
        {
            var bytes = Encoding.GetEncoding(1252).GetBytes(text());
            // Each file has a second of its own, so that the newest is told by its name.
            var now = clock.GetUtcNow().UtcTicks / TimeSpan.TicksPerSecond * TimeSpan.TicksPerSecond;
            var next = _last == default ? 0 : _last.UtcTicks + TimeSpan.TicksPerSecond;
            _last = new DateTimeOffset(Math.Max(now, next), TimeSpan.Zero);
            var path = Path.Combine(folder, $"{name}_{_last.UtcDateTime.ToString("yyyyMMdd-HHmmss", CultureInfo.InvariantCulture)}.csv");
            File.WriteAllBytes($"{path}.part", bytes);
            File.Move($"{path}.part", path, overwrite: true);
        }
    }

    /// <summary>A line of cells, quoted where they hold what would break it.</summary>
    public static string Line(params IEnumerable<string> cells) => $"{string.Join(';', cells.Select(Cell))}\r\n";

    /// <summary>An amount with a comma.</summary>
    public static string Amount(decimal amount) => amount.ToString("0.00", CultureInfo.InvariantCulture).Replace('.', ',');

    private static string Cell(string text) =>
        text.AsSpan().IndexOfAny(";\"\r\n") >= 0 ? $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : text;
}
