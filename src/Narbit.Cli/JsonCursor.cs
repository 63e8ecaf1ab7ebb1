using System.Buffers;
using System.Text;
using System.Text.Unicode;

namespace Narbit.Cli;

internal ref struct JsonCursor(ReadOnlySpan<byte> json)
{
    private const int MostDigits = 18;
    private const int Tail = 32;

    private static readonly SearchValues<byte> Marks = SearchValues.Create("\"{}"u8);

    private readonly ReadOnlySpan<byte> _json = json;
    private int _at;
    private bool _first;

    /// <summary>Whether something out of the ordinary was met.</summary>
    public bool Broken { get; private set; }

    /// <summary>Whether nothing but blanks is left.</summary>
    public bool AtEnd
    {
        get
        {
            Blanks();
            return !Broken && _at == _json.Length;
        }
    }

    public bool Open(char bracket)
    {
        _first = true;
        return Take((byte)bracket) || Break();
    }

    /// <summary>The name of an object's next member; false at its end, or broken.</summary>
    public bool Member(out ReadOnlySpan<byte> name)
    {
        name = default;
        if (Broken || !More((byte)'}'))
            return false;
        return (Quoted(out name) && Take((byte)':')) || Break();
    }

    /// <summary>Whether an array has another element.</summary>
    public bool Element() => !Broken && More((byte)']');

    public bool Text(out ReadOnlySpan<byte> text) =>
        Quoted(out text) && ((Ascii.IsValid(text) && text.IndexOfAnyInRange((byte)0, (byte)31) < 0) || Break());

    private bool Quoted(out ReadOnlySpan<byte> text)
    {
        text = default;
        if (!Take((byte)'"'))
            return Break();
        var length = _json[_at..].IndexOfAny((byte)'"', (byte)'\\');
        if (length < 0 || _json[_at + length] == '\\')
            return Break();
        text = _json.Slice(_at, length);
        _at += length + 1;
        return true;
    }

    public bool Number(out decimal value)
    {
        Blanks();
        var negative = _at < _json.Length && _json[_at] == '-';
        if (negative)
            _at++;
        var (start, number) = (_at, 0);
        while (_at < _json.Length && _json[_at] is >= (byte)'0' and <= (byte)'9' && _at - start < 10)
            number = number * 10 + (_json[_at++] - '0');
        var digits = _at - start;
        value = negative ? -number : number;
        var ordinary =
            digits is > 0 and < 10
            && (digits == 1 || _json[start] != '0')
            && (_at == _json.Length || _json[_at] is (byte)',' or (byte)'}' or (byte)']' or <= 32);
        return ordinary || Break();
    }

    /// <summary>A whole number of up to nine digits.</summary>
    public bool Whole(out int value)
    {
        var read = Number(out var number);
        value = read ? (int)number : 0;
        return read;
    }

    /// <summary>An amount as a number or as text: up to 18 digits, with or without a point between them.</summary>
    public bool Amount(out decimal value)
    {
        Blanks();
        value = 0;
        var quoted = _at < _json.Length && _json[_at] == '"';
        if (quoted)
            _at++;
        if (!Digits(out value, quoted))
            return Break();
        if (!quoted)
            return true;
        return Take((byte)'"') || Break();
    }

    private bool Digits(out decimal value, bool quoted)
    {
        var negative = _at < _json.Length && _json[_at] == '-';
        if (negative)
            _at++;
        var (start, point, number) = (_at, -1, 0L);
        for (; _at < _json.Length && _at - start <= MostDigits; _at++)
        {
            var mark = _json[_at];
            if (mark is >= (byte)'0' and <= (byte)'9')
                number = number * 10 + (mark - '0');
            else if (mark == '.' && point < 0)
                point = _at;
            else
                break;
        }

        var (before, after) = ((point < 0 ? _at : point) - start, point < 0 ? 0 : _at - point - 1);
        value = new decimal((int)number, (int)(number >> 32), 0, negative && number != 0, (byte)after);
        return before > 0
            && (point < 0 || after > 0)
            && (before == 1 || _json[start] != '0')
            && _at < _json.Length
            && _json[_at] is (byte)',' or (byte)'}' or (byte)']' or (byte)'"' or <= 32
            && quoted == (_json[_at] == '"');
    }

    /// <summary>Passes over <c>null</c>, where it stands here.</summary>
    public bool IsNull()
    {
        Blanks();
        if (!_json[_at..].StartsWith("null"u8))
            return false;
        _at += 4;
        return true;
    }

    /// <summary>A text in any script, or null.</summary>
    public bool AnyText(out string? text)
    {
        text = null;
        if (IsNull())
            return true;
        if (!Quoted(out var bytes) || bytes.IndexOfAnyInRange((byte)0, (byte)31) >= 0 || !Utf8.IsValid(bytes))
            return Break();
        text = Encoding.UTF8.GetString(bytes);
        return true;
    }

    /// <summary>An instant as <c>2026-11-01T08:30:00Z</c>.</summary>
    public bool Instant(out DateTimeOffset instant)
    {
        instant = default;
        if (!Quoted(out var text) || text.Length != 20)
            return Break();
        Span<int> parts = stackalloc int[6];
        for (var i = 0; i < parts.Length; i++)
        {
            // Four digits of the year, then two each, each with its mark behind it.
            var (from, length) = i == 0 ? (0, 4) : (2 + 3 * i, 2);
            if (text[from + length] != "--T::Z"u8[i] || !Digits(text.Slice(from, length), out parts[i]))
                return Break();
        }

        var isDay = parts[0] > 0 && parts[1] is >= 1 and <= 12 && parts[2] >= 1 && parts[2] <= DateTime.DaysInMonth(parts[0], parts[1]);
        if (!isDay || parts[3] > 23 || parts[4] > 59 || parts[5] > 59)
            return Break();
        instant = new DateTimeOffset(parts[0], parts[1], parts[2], parts[3], parts[4], parts[5], TimeSpan.Zero);
        return true;
    }

    private static bool Digits(ReadOnlySpan<byte> text, out int number)
    {
        number = 0;
        foreach (var mark in text)
        {
            if (mark is < (byte)'0' or > (byte)'9')
                return false;
            number = number * 10 + (mark - '0');
        }

        return true;
    }

    /// <summary>Passes over an object that was met before, where its very bytes stand here: they say themselves where they end.</summary>
    public bool IsSame(ReadOnlySpan<byte> met)
    {
        Blanks();
        // Rules of one file begin alike, and seldom end alike.
        var rest = _json[_at..];
        if (rest.Length < met.Length || !rest[..met.Length].EndsWith(met[^Math.Min(met.Length, Tail)..]) || !rest.StartsWith(met))
            return false;
        _at += met.Length;
        _first = false;
        return true;
    }

    public bool Truth(out bool value)
    {
        Blanks();
        value = _json[_at..].StartsWith("true"u8);
        if (!value && !_json[_at..].StartsWith("false"u8))
            return Break();
        _at += value ? 4 : 5;
        return true;
    }

    /// <summary>Passes over an object and returns its bytes.</summary>
    public ReadOnlySpan<byte> Object()
    {
        Blanks();
        var start = _at;
        return Skip() ? _json[start.._at] : default;
    }

    /// <summary>Passes over an object without reading it.</summary>
    public bool Skip()
    {
        if (!Take((byte)'{'))
            return Break();
        for (var depth = 1; depth > 0; )
        {
            var next = _json[_at..].IndexOfAny(Marks);
            if (next < 0)
                return Break();
            _at += next;
            switch (_json[_at])
            {
                case (byte)'"':
                    if (!SkipText())
                        return Break();
                    continue;
                case (byte)'{':
                    depth++;
                    break;
                default:
                    depth--;
                    break;
            }

            _at++;
        }

        _first = false;
        return true;
    }

    private bool SkipText()
    {
        for (_at++; _at < _json.Length; _at += 2)
        {
            var next = _json[_at..].IndexOfAny((byte)'"', (byte)'\\');
            if (next < 0)
                return false;
            _at += next;
            if (_json[_at] == '\\')
                continue;
            _at++;
            return true;
        }

        return false;
    }

    private bool More(byte end)
    {
        if (Take(end))
            return false;
        if (!_first && !Take((byte)','))
            return Break();
        _first = false;
        return true;
    }

    private bool Take(byte mark)
    {
        Blanks();
        if (_at == _json.Length || _json[_at] != mark)
            return false;
        _at++;
        // Once a bracket is closed, what comes next around it follows a comma.
        if (mark is (byte)'}' or (byte)']')
            _first = false;
        return true;
    }

    private void Blanks()
    {
        if (_at < _json.Length && _json[_at] > ' ')
            return;
        while (_at < _json.Length && _json[_at] is (byte)' ' or (byte)'\t' or (byte)'\r' or (byte)'\n')
            _at++;
    }

    /// <summary>Leaves the whole to whoever has the words for what is wrong.</summary>
    /// <returns>False.</returns>
    public bool Break()
    {
        Broken = true;
        return false;
    }
}
