namespace Narbit.Core.Mapping.Steps;

/// <summary>What is made of HTML while it is read, element by element and text by text.</summary>
internal abstract class HtmlReading
{
    private char[] _made = new char[256];

    protected int Length { get; set; }

    protected char Last => Length == 0 ? '\0' : _made[Length - 1];

    protected string Made => new(_made, 0, Length);

    protected void Put(char letter)
    {
        if (Length == _made.Length)
            Array.Resize(ref _made, Length * 2);
        _made[Length++] = letter;
    }

    protected void Put(ReadOnlySpan<char> letters)
    {
        if (Length + letters.Length > _made.Length)
            Array.Resize(ref _made, (Length + letters.Length) * 2);
        letters.CopyTo(_made.AsSpan(Length));
        Length += letters.Length;
    }

    /// <summary>An element begins.</summary>
    /// <param name="name">Its name, in lower case.</param>
    /// <param name="attributes">Its attributes.</param>
    public abstract void Opens(string name, IReadOnlyCollection<KeyValuePair<string, string>> attributes);

    /// <summary>An element ends; one that holds nothing ends at once.</summary>
    public abstract void Closes(string name);

    /// <summary>A text, or a piece of one.</summary>
    public abstract void Says(ReadOnlySpan<char> words);

    /// <summary>Whether an element is passed over with all that is in it.</summary>
    public virtual bool Skips(string name) => false;

    /// <summary>What was made of it.</summary>
    public abstract string Result { get; }
}

/// <summary>The form of HTML, by which it is compared: elements, their attributes by name, and words with single spaces.</summary>
internal sealed class HtmlForm : HtmlReading
{
    public override string Result
    {
        get
        {
            Trim();
            return Made;
        }
    }

    public override void Opens(string name, IReadOnlyCollection<KeyValuePair<string, string>> attributes)
    {
        Put('<');
        Put(name);
        foreach (var (attribute, value) in attributes.OrderBy(a => a.Key, StringComparer.Ordinal))
            Put($" {attribute}=\"{value.Trim()}\"");
        Put('>');
    }

    public override void Closes(string name)
    {
        Trim();
        Put("</>");
    }

    public override void Says(ReadOnlySpan<char> words)
    {
        foreach (var letter in words)
        {
            if (!char.IsWhiteSpace(letter))
                Put(letter);
            else if (Length > 0 && Last is not (' ' or '>'))
                Put(' ');
        }
    }

    private void Trim()
    {
        while (Last == ' ')
            Length--;
    }
}

/// <summary>The words of HTML, a line for each block.</summary>
internal sealed class HtmlWords : HtmlReading
{
    private static readonly HashSet<string> Blocks =
    [
        "p",
        "div",
        "ul",
        "ol",
        "li",
        "h1",
        "h2",
        "h3",
        "h4",
        "h5",
        "h6",
        "table",
        "tr",
        "blockquote",
        "section",
        "article",
        "hr",
        "dl",
        "dt",
        "dd",
    ];
    private static readonly HashSet<string> Silent = ["script", "style", "template", "noscript", "head", "iframe", "object"];

    public override string Result =>
        string.Join('\n', Made.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));

    public override void Opens(string name, IReadOnlyCollection<KeyValuePair<string, string>> attributes)
    {
        if (name == "br" || Blocks.Contains(name))
            Put('\n');
        else if (name is "td" or "th" && Length > 0 && !char.IsWhiteSpace(Last))
            Put(' ');
    }

    public override void Closes(string name)
    {
        if (Blocks.Contains(name))
            Put('\n');
    }

    public override void Says(ReadOnlySpan<char> words)
    {
        foreach (var letter in words)
        {
            if (!char.IsWhiteSpace(letter))
                Put(letter);
            else if (Length > 0 && Last is not (' ' or '\n'))
                Put(' ');
        }
    }

    public override bool Skips(string name) => Silent.Contains(name);
}

/// <summary>The HTML written again, as the WHATWG HTML standard serialises it.</summary>
internal sealed class HtmlAgain : HtmlReading
{
    public override string Result => Made.Trim();

    public override void Opens(string name, IReadOnlyCollection<KeyValuePair<string, string>> attributes)
    {
        Put('<');
        Put(name);
        Put('>');
    }

    public override void Closes(string name)
    {
        if (name == "br")
            return;
        Put("</");
        Put(name);
        Put('>');
    }

    public override void Says(ReadOnlySpan<char> words)
    {
        for (var at = words.IndexOfAny("&<>\u00A0"); at >= 0; at = words.IndexOfAny("&<>\u00A0"))
        {
            Put(words[..at]);
            Put(
                words[at] switch
                {
                    '&' => "&amp;",
                    '<' => "&lt;",
                    '>' => "&gt;",
                    _ => "&nbsp;",
                }
            );
            words = words[(at + 1)..];
        }

        Put(words);
    }
}
