using System.Buffers;
using System.Net;

namespace Narbit.Core.Mapping.Steps;

/// <summary>
/// Reads HTML as descriptions are mostly written: a few elements without attributes, closed in their order. For such a text the parser of
/// the WHATWG HTML standard
/// would build exactly the tree that stands there, so nothing has to be parsed, which takes a small part of the time. Whatever is not
/// certainly so is refused, and goes to the parser.
/// </summary>
internal static class SimpleHtml
{
    // What may stand in what, so that the parser neither moves nor closes anything by itself: words in paragraphs, headings and marks,
    // entries in lists, blocks in the rest.
    private enum Place
    {
        Blocks,
        Entries,
        Words,
        Nothing,
    }

    private sealed record Element(string Name, Place Inside, bool IsBlock = false, bool IsEntry = false);

    private const int Deepest = 12;
    private const int LongestReference = 10;

    private static readonly KeyValuePair<string, string>[] NoAttributes = [];

    // Letters that a parser does not keep as they are, or may not.
    private static readonly SearchValues<char> Odd = SearchValues.Create([
        .. Enumerable.Range(0, 32).Where(c => c is not ('\n' or '\t')).Select(c => (char)c),
        '\u007F',
        '\uFEFF',
        .. Enumerable.Range(0xD800, 0x800).Select(c => (char)c),
    ]);

    private static readonly Element[] Elements =
    [
        new("p", Place.Words, IsBlock: true),
        new("ul", Place.Entries, IsBlock: true),
        new("ol", Place.Entries, IsBlock: true),
        new("li", Place.Blocks, IsEntry: true),
        new("blockquote", Place.Blocks, IsBlock: true),
        new("h2", Place.Words, IsBlock: true),
        new("h3", Place.Words, IsBlock: true),
        new("h4", Place.Words, IsBlock: true),
        new("br", Place.Nothing),
        new("strong", Place.Words),
        new("em", Place.Words),
        new("b", Place.Words),
        new("i", Place.Words),
        new("u", Place.Words),
        new("sub", Place.Words),
        new("sup", Place.Words),
    ];

    /// <summary>Reads a text.</summary>
    /// <param name="html">The text.</param>
    /// <param name="reading">What is made of it; of no use where the text could not be read.</param>
    /// <param name="allowed">The names of elements that are allowed; null: all that are known here.</param>
    /// <returns>Whether it could be read to its end.</returns>
    public static bool TryRead(ReadOnlySpan<char> html, HtmlReading reading, IReadOnlySet<string>? allowed = null)
    {
        var open = new Stack<Element>(Deepest);
        for (var at = 0; at < html.Length; )
        {
            var inside = open.TryPeek(out var around) ? around.Inside : Place.Blocks;
            switch (html[at])
            {
                case '<':
                    var end = html[at..].IndexOf('>');
                    if (end < 2)
                        return false;
                    var closing = html[at + 1] == '/';
                    if (Find(html[(at + (closing ? 2 : 1))..(at + end)]) is not { } element || allowed?.Contains(element.Name) == false)
                        return false;
                    at += end + 1;
                    if (closing)
                    {
                        if (!open.TryPop(out var opened) || opened != element)
                            return false;
                        reading.Closes(element.Name);
                        break;
                    }

                    if (!Fits(element, inside) || open.Count == Deepest)
                        return false;
                    reading.Opens(element.Name, NoAttributes);
                    if (element.Inside == Place.Nothing)
                        reading.Closes(element.Name);
                    else
                        open.Push(element);
                    break;
                case '&':
                    var length = html[at..Math.Min(html.Length, at + LongestReference)].IndexOf(';') + 1;
                    if (inside == Place.Entries || length < 4 || Referred(html.Slice(at, length)) is not { } letter)
                        return false;
                    reading.Says([letter]);
                    at += length;
                    break;
                default:
                    var text = html[at..];
                    var next = text.IndexOfAny('<', '&');
                    if (next >= 0)
                        text = text[..next];
                    // Between the entries of a list there is room for spaces only.
                    if (text.ContainsAny(Odd) || (inside == Place.Entries && text.ContainsAnyExcept(" \n\t")))
                        return false;
                    reading.Says(text);
                    at += text.Length;
                    break;
            }
        }

        return open.Count == 0;
    }

    private static Element? Find(ReadOnlySpan<char> name)
    {
        foreach (var element in Elements)
            if (name.SequenceEqual(element.Name))
                return element;
        return null;
    }

    private static bool Fits(Element element, Place inside) =>
        inside switch
        {
            Place.Entries => element.IsEntry,
            Place.Words => !element.IsEntry && !element.IsBlock,
            _ => !element.IsEntry,
        };

    // Named characters that HTML and WebUtility read alike, which they do but for two brackets; numbers are left to the parser, which has
    // rules of its own for some.
    private static char? Referred(ReadOnlySpan<char> reference)
    {
        foreach (var c in reference[1..^1])
            if (!char.IsAsciiLetterOrDigit(c))
                return null;
        return reference is "&lang;" or "&rang;" || WebUtility.HtmlDecode(reference.ToString()) is not [var letter] ? null : letter;
    }
}
