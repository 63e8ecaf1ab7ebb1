using System.IO.Hashing;
using System.Runtime.CompilerServices;
using System.Text;
using Narbit.Core;

namespace Narbit.Cli;

/// <summary>
/// A CSV file (RFC 4180, UTF-8) as bytes with the places of its rows. Rows are told apart by a key and compared byte for byte before any
/// text is made of them:
/// that is what makes a comparison of two files faster than a database's join (docs/decisions/0004).
/// </summary>
internal sealed class CsvBytes
{
    private readonly byte[] _data;
    private readonly int[] _rows;
    private readonly int[] _slots;
    private int _keyColumn;
    private readonly byte _delimiter;

    private CsvBytes(byte[] data, byte delimiter, string[] columns, int[] rows)
    {
        _data = data;
        _delimiter = delimiter;
        Columns = columns;
        _rows = rows;
        var size = 16;
        while (size < Count * 2)
            size *= 2;
        _slots = new int[size];
    }

    public IReadOnlyList<string> Columns { get; }

    /// <summary>How many rows there are, without the header.</summary>
    public int Count => _rows.Length - 1;

    /// <summary>Finds the rows of a file.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static CsvBytes Read(byte[] data)
    {
        var start = data.AsSpan().StartsWith("\uFEFF"u8) ? 3 : 0;
        var headEnd = RowEnd(data, start);
        var head = data.AsSpan(start, headEnd - start);
        var delimiter =
            head.IndexOf((byte)',') >= 0 ? (byte)','
            : head.IndexOf((byte)';') >= 0 ? (byte)';'
            : (byte)'\t';
        var cells = new Cell[head.Count(delimiter) + 1];
        var width = Split(data, start, headEnd, delimiter, cells);
        var columns = cells.Take(width).Select(c => Text(data, c)?.Trim() ?? "").ToArray();

        var rows = new List<int>(data.Length / 100);
        for (var at = headEnd + 1; at < data.Length; )
        {
            var end = RowEnd(data, at);
            if (end > at && !(end == at + 1 && data[at] == '\r'))
                rows.Add(at);
            at = end + 1;
        }

        rows.Add(data.Length);
        return new CsvBytes(data, delimiter, columns, [.. rows]);
    }

    /// <summary>The file with its rows found by a key column, or why that cannot be.</summary>
    /// <param name="name">What the file is called.</param>
    /// <param name="key">The column.</param>
    public Outcome<CsvBytes> Indexed(string name, string key)
    {
        if (_data.Length == 0)
            return new Reason("table.empty", $"{name} is empty; its first line must name the columns.");
        _keyColumn = Array.IndexOf([.. Columns], key);
        if (_keyColumn < 0)
            return new Reason("table.noColumn", $"{name} has no column “{key}”; it has {string.Join(", ", Columns)}.");
        return Index(name) is { } fault ? fault : this;
    }

    /// <summary>A row's bytes without its line end.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public ReadOnlySpan<byte> Row(int row)
    {
        var end = _rows[row + 1];
        while (end > _rows[row] && _data[end - 1] is (byte)'\n' or (byte)'\r')
            end--;
        return _data.AsSpan(_rows[row], end - _rows[row]);
    }

    /// <summary>Takes a row apart.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public void Split(int row, Span<Cell> cells)
    {
        var found = Split(_data, _rows[row], _rows[row] + Row(row).Length, _delimiter, cells);
        cells[found..].Clear();
    }

    /// <summary>A cell's bytes, quotes and all.</summary>
    public ReadOnlySpan<byte> Bytes(Cell cell) => _data.AsSpan(cell.Start, cell.Length);

    /// <summary>A cell's text; null where it is empty.</summary>
    public string? Text(Cell cell) => Text(_data, cell);

    /// <summary>A row's key, as it stands in the file.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public ReadOnlySpan<byte> Key(int row)
    {
        Span<Cell> cells = stackalloc Cell[_keyColumn + 1];
        cells.Clear();
        Split(_data, _rows[row], _rows[row] + Row(row).Length, _delimiter, cells);
        return Bytes(cells[_keyColumn]);
    }

    /// <summary>The row with a key, or -1.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public int Find(ReadOnlySpan<byte> key)
    {
        for (var slot = Slot(key); ; slot = (slot + 1) & (_slots.Length - 1))
        {
            if (_slots[slot] == 0)
                return -1;
            if (Key(_slots[slot] - 1).SequenceEqual(key))
                return _slots[slot] - 1;
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private Reason? Index(string name)
    {
        for (var row = 0; row < Count; row++)
        {
            var key = Key(row);
            if (key.IsEmpty)
                return new Reason("table.keyMissing", $"{name}: the {Ordinal(row)} record has no {Columns[_keyColumn]}.");
            var slot = Slot(key);
            while (_slots[slot] != 0)
            {
                if (Key(_slots[slot] - 1).SequenceEqual(key))
                    return new Reason(
                        "table.keyTwice",
                        $"{name}: the {Ordinal(row)} record has the {Columns[_keyColumn]} {Encoding.UTF8.GetString(key)}, which "
                            + $"the {Ordinal(_slots[slot] - 1)} has already."
                    );
                slot = (slot + 1) & (_slots.Length - 1);
            }

            _slots[slot] = row + 1;
        }

        return null;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private int Slot(ReadOnlySpan<byte> key) => (int)(XxHash3.HashToUInt64(key) & (ulong)(_slots.Length - 1));

    private static string Ordinal(int row) =>
        (row + 1) switch
        {
            var n when n % 100 is >= 11 and <= 13 => $"{n:N0}th",
            var n when n % 10 == 1 => $"{n:N0}st",
            var n when n % 10 == 2 => $"{n:N0}nd",
            var n when n % 10 == 3 => $"{n:N0}rd",
            var n => $"{n:N0}th",
        };

    // The line end after a position that is not within quotes, or the end of the file.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int RowEnd(byte[] data, int from)
    {
        var quoted = false;
        for (var at = from; at < data.Length; at++)
        {
            var next = quoted ? data.AsSpan(at).IndexOf((byte)'"') : data.AsSpan(at).IndexOfAny((byte)'\n', (byte)'"');
            if (next < 0)
                return data.Length;
            at += next;
            if (data[at] == '\n')
                return at;
            quoted = !quoted;
        }

        return data.Length;
    }

    // Takes as many cells apart as there is room for; returns how many were found.
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int Split(byte[] data, int from, int to, byte delimiter, Span<Cell> cells)
    {
        var count = 0;
        for (var at = from; count < cells.Length; count++)
        {
            var start = at;
            var quoted = at < to && data[at] == '"';
            if (quoted)
            {
                for (at++; at < to; at++)
                {
                    var next = data.AsSpan(at, to - at).IndexOf((byte)'"');
                    if (next < 0)
                    {
                        at = to;
                        break;
                    }

                    at += next;
                    if (at + 1 < to && data[at + 1] == '"')
                        at++;
                    else
                        break;
                }
            }

            var end = at >= to ? -1 : data.AsSpan(at, to - at).IndexOf(delimiter);
            at = end < 0 ? to : at + end;
            cells[count] = new Cell(start, at - start);
            if (end < 0)
                return count + 1;
            at++;
        }

        return count;
    }

    private static string? Text(byte[] data, Cell cell)
    {
        var bytes = data.AsSpan(cell.Start, cell.Length);
        if (bytes.IsEmpty)
            return null;
        if (bytes[0] != '"')
            return Encoding.UTF8.GetString(bytes);
        bytes = bytes[1..^(bytes.Length > 1 && bytes[^1] == '"' ? 1 : 0)];
        return bytes.IsEmpty ? null : Encoding.UTF8.GetString(bytes).Replace("\"\"", "\"", StringComparison.Ordinal);
    }

    /// <summary>Where a cell stands.</summary>
    internal readonly record struct Cell(int Start, int Length);
}
