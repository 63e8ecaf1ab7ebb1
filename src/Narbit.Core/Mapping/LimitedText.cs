namespace Narbit.Core.Mapping;

/// <summary>Texts that are no longer than somebody takes.</summary>
public static class LimitedText
{
    /// <summary>The text; a longer one is cut at the last word's end that fits, or at the letter; never within a character.</summary>
    /// <param name="text">The text.</param>
    /// <param name="length">How many characters are kept at most, at least 1.</param>
    /// <param name="word">Whether it is cut at a word's end.</param>
    /// <param name="ellipsis">Whether an ellipsis says that something was cut; it counts.</param>
    public static string Of(string text, int length, bool word, bool ellipsis)
    {
        if (text.Length <= length)
            return text;
        var room = ellipsis ? length - 1 : length;
        if (room < 1)
            return "…"[..length];
        var cut = room;
        if (char.IsLowSurrogate(text[cut]) && char.IsHighSurrogate(text[cut - 1]))
            cut--;
        if (word && !char.IsWhiteSpace(text[cut]))
        {
            var space = text.LastIndexOf(' ', cut - 1, cut);
            if (space > 0)
                cut = space;
        }

        var kept = text[..cut].TrimEnd(' ', ',', ';', ':', '-', '–');
        return ellipsis ? kept + "…" : kept;
    }
}
