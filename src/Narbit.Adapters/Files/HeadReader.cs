namespace Narbit.Adapters.Files;

/// <summary>A table's first line has more columns than are read.</summary>
internal sealed class TooManyColumnsException : Exception;

/// <summary>
/// Passes a text on, and stops where its first line has too many columns: a reader of tables makes much of each of them before anybody
/// can ask how many there are.
/// </summary>
internal sealed class HeadReader(TextReader text, int most) : TextReader
{
    private int _columns = 1;
    private bool _quoted;
    private bool _past;

    public override int Read(char[] buffer, int index, int count) => Read(buffer.AsSpan(index, count));

    public override int Read(Span<char> buffer)
    {
        var read = text.Read(buffer);
        if (!_past)
            Count(buffer[..read]);
        return read;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            text.Dispose();
        base.Dispose(disposing);
    }

    private void Count(ReadOnlySpan<char> some)
    {
        foreach (var one in some)
        {
            _quoted ^= one == '"';
            _past = !_quoted && one is '\n' or '\r';
            if (_past)
                return;
            if (!_quoted && one is ',' or ';' or '\t' or '|' && ++_columns > most)
                throw new TooManyColumnsException();
        }
    }
}
