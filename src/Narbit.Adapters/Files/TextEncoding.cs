using System.Text;
using System.Text.Unicode;

namespace Narbit.Adapters.Files;

/// <summary>Finds out how the text of a file is encoded.</summary>
public static class TextEncoding
{
    internal const int Looked = 256 * 1024;

    static TextEncoding() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>
    /// A reader for the text: by its byte order mark; without one UTF-16 where every other byte is 0 in the first 256 KiB,
    /// UTF-8 where all of it is valid UTF-8, and otherwise Windows-1252, which every sequence of bytes is.
    /// </summary>
    /// <param name="stream">A stream that can seek, at its start. The reader closes it.</param>
    /// <param name="name">The encoding by its IANA name, where it is known; then bytes that are none of it are a fault.</param>
    public static StreamReader Open(Stream stream, string? name = null)
    {
        if (name is not null)
            return new StreamReader(stream, Strict(name), detectEncodingFromByteOrderMarks: true, bufferSize: 1 << 16);
        var head = new byte[(int)Math.Min(Looked, stream.Length)];
        stream.ReadExactly(head);
        var encoding = Of(head);
        // The first letter that is none in UTF-8 may come late.
        if (encoding is UTF8Encoding && stream.Length > head.Length && !head.AsSpan().StartsWith(Encoding.UTF8.Preamble))
            encoding = IsUtf8(stream) ? encoding : Encoding.GetEncoding(1252);
        stream.Position = 0;
        return new StreamReader(stream, encoding, detectEncodingFromByteOrderMarks: true, bufferSize: 1 << 16);
    }

    private static bool IsUtf8(Stream stream)
    {
        stream.Position = 0;
        var buffer = new byte[Looked];
        var left = 0;
        while (true)
        {
            var read = stream.Read(buffer, left, buffer.Length - left);
            var some = buffer.AsSpan(0, left + read);
            if (read == 0)
                return left == 0;
            // A character may be cut by the end of the buffer; at most three bytes of it stand there.
            var whole = some.Length;
            while (whole > some.Length - 4 && whole > 0 && !Utf8.IsValid(some[..whole]))
                whole--;
            if (!Utf8.IsValid(some[..whole]))
                return false;
            left = some.Length - whole;
            some[whole..].CopyTo(buffer);
        }
    }

    /// <summary>An encoding by its IANA name.</summary>
    public static Encoding Named(string name) =>
        string.Equals(name, "utf-8", StringComparison.OrdinalIgnoreCase) ? new UTF8Encoding(false) : Encoding.GetEncoding(name);

    /// <summary>Whether there is an encoding of this name.</summary>
    public static bool IsKnown(string name)
    {
        try
        {
            return Strict(name) is not null;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }

    private static Encoding Strict(string name) =>
        Encoding.GetEncoding(name, EncoderFallback.ExceptionFallback, DecoderFallback.ExceptionFallback);

    /// <summary>The encoding that the first bytes of a text speak for.</summary>
    public static Encoding Of(ReadOnlySpan<byte> head)
    {
        if (head.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE, 0, 0]))
            return Encoding.UTF32;
        if (head.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]))
            return Encoding.Unicode;
        if (head.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return Encoding.BigEndianUnicode;
        if (head.StartsWith((ReadOnlySpan<byte>)[0xEF, 0xBB, 0xBF]))
            return Encoding.UTF8;
        var (even, odd) = (0, 0);
        for (var i = 0; i < head.Length; i++)
        {
            if (head[i] != 0)
                continue;
            if (i % 2 == 0)
                even++;
            else
                odd++;
        }

        if (odd > head.Length / 4 && even < head.Length / 20)
            return Encoding.Unicode;
        if (even > head.Length / 4 && odd < head.Length / 20)
            return Encoding.BigEndianUnicode;
        // The last character may be cut by the end of what was looked at.
        for (var cut = 0; cut < 4 && cut <= head.Length; cut++)
            if (Utf8.IsValid(head[..^cut]))
                return Encoding.UTF8;
        return Encoding.GetEncoding(1252);
    }
}
