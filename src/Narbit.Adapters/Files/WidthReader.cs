using System.Buffers;

namespace Narbit.Adapters.Files;

/// <summary>A line of a table has more cells than are read.</summary>
/// <param name="line">The line, from 1.</param>
/// <param name="most">The most cells that a line may have.</param>
internal sealed class TooManyCellsException(int line, int most) : FormatException($"line {line} has more than {most:N0} columns");

/// <summary>
/// Passes the text of a table on, and stops at a line with too many cells: a reader of tables makes much of each of them before anybody
/// can ask how many there are. A line that ends with CR alone ends with LF: it would take a hundred times as long.
/// </summary>
internal sealed class WidthReader : TextReader
{
    private const int Looked = 1 << 14;

    private readonly TextReader _text;
    private readonly int _most;
    private readonly int _above;
    private readonly SearchValues<char> _marks;
    private readonly char[] _head = new char[Looked];
    private ReadOnlyMemory<char> _ahead;
    private int _cells = 1;
    private int _newLines;
    private int _returns;
    private bool _quoted;

    // A quotation mark counts where a cell begins, and where another one has just ended: there it stands for itself.
    private bool _begins = true;

    /// <param name="text">The text, which is closed at the end.</param>
    /// <param name="delimiter">What stands between its cells; null: found out.</param>
    /// <param name="most">The most cells that a line may have.</param>
    /// <param name="above">How many lines of it were read before.</param>
    public WidthReader(TextReader text, char? delimiter, int most, int above = 0)
    {
        (_text, _most, _above) = (text, most, above);
        _ahead = _head.AsMemory(0, text.ReadBlock(_head));
        Delimiter = delimiter ?? DelimiterReading.Of(_ahead.ToString());
        _marks = SearchValues.Create(['"', '\n', '\r', Delimiter]);
    }

    /// <summary>What stands between its cells.</summary>
    public char Delimiter { get; }

    public override int Read(char[] buffer, int index, int count) => Read(buffer.AsSpan(index, count));

    /// <exception cref="TooManyCellsException">A line has more cells than it may have.</exception>
    public override int Read(Span<char> buffer)
    {
        var read = _ahead.IsEmpty ? _text.Read(buffer) : ReadAhead(buffer);
        Count(buffer[..read]);
        return read;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            _text.Dispose();
        base.Dispose(disposing);
    }

    private int ReadAhead(Span<char> buffer)
    {
        var read = Math.Min(buffer.Length, _ahead.Length);
        _ahead.Span[..read].CopyTo(buffer);
        _ahead = _ahead[read..];
        return read;
    }

    private void Count(Span<char> some)
    {
        while (!some.IsEmpty)
        {
            var at = _quoted ? some.IndexOfAny('"', '\n', '\r') : some.IndexOfAny(_marks);
            _begins &= at == 0;
            if (at < 0)
                return;
            Mark(some[at]);
            if (some[at] == '\r' && !_quoted && at + 1 < some.Length && some[at + 1] != '\n')
                some[at] = '\n';
            some = some[(at + 1)..];
        }
    }

    private void Mark(char mark)
    {
        _newLines += mark == '\n' ? 1 : 0;
        _returns += mark == '\r' ? 1 : 0;
        if (mark == '"')
            (_quoted, _begins) = (!_quoted && _begins, _quoted);
        else if (!_quoted)
            (_cells, _begins) = (mark == Delimiter ? _cells + 1 : 1, true);
        if (_cells > _most)
            throw new TooManyCellsException(_above + 1 + Math.Max(_newLines, _returns), _most);
    }
}
