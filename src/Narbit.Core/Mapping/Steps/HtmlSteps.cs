using System.Net;
using System.Text;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Ganss.Xss;

namespace Narbit.Core.Mapping.Steps;

/// <summary>
/// Steps between HTML and text. HTML is parsed as the WHATWG HTML standard says (AngleSharp); what is allowed is decided by HtmlSanitizer.
/// </summary>
internal static class HtmlSteps
{
    // Deeper documents would exhaust the stack of whatever walks them, and longer ones hold everybody up; nobody writes a description so.
    private const int Deepest = 200;
    private const int Longest = 1_000_000;
    private static readonly HashSet<string> Unclosed = new(StringComparer.OrdinalIgnoreCase)
    {
        "p",
        "li",
        "td",
        "th",
        "tr",
        "dt",
        "dd",
        "br",
        "hr",
        "img",
        "input",
        "meta",
        "link",
        "col",
        "wbr",
        "option",
        "thead",
        "tbody",
    };
    private const string Usual = "p,br,ul,ol,li,strong,em,b,i,u,h2,h3,h4,a,table,thead,tbody,tr,th,td,img,blockquote,hr,sub,sup";

    // A parser of its own for each thread: making one takes longer than parsing.
    [ThreadStatic]
    private static HtmlParser? _parser;

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "stripHtml",
            Label = "take the text out of HTML",
            Group = "HTML",
            Takes = Shape.Html | Shape.Text,
            Gives = Shape.Text,
            Make = _ => new StepRun((value, _) => Read<HtmlWords>(value.Text!)),
        },
        new()
        {
            Do = "sanitise",
            Label = "keep only allowed HTML",
            Group = "HTML",
            Takes = Shape.Html | Shape.Text,
            Gives = Shape.Html,
            Parameters = [new StepParameter("tags", "allowed tags", ParameterKind.Text, Default: Usual)],
            Make = a =>
            {
                var allowed = a.Text("tags")
                    .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .ToHashSet(StringComparer.OrdinalIgnoreCase);
                var sanitizer = new HtmlSanitizer(
                    new HtmlSanitizerOptions
                    {
                        AllowedTags = allowed,
                        AllowedAttributes = new HashSet<string>(StringComparer.OrdinalIgnoreCase)
                        {
                            "href",
                            "title",
                            "alt",
                            "src",
                            "colspan",
                            "rowspan",
                        },
                        AllowedSchemes = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "https", "http", "mailto" },
                        UriAttributes = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "href", "src" },
                    }
                );
                return new StepRun(
                    (value, _) =>
                    {
                        var again = new HtmlAgain();
                        return value.Text!.Length <= Longest && SimpleHtml.TryRead(value.Text, again, allowed)
                            ? again.Result
                            : Parsed(
                                value.Text,
                                body => sanitizer.SanitizeDom((IHtmlDocument)body.Owner!, (IHtmlElement)body, "").Body!.InnerHtml.Trim()
                            );
                    }
                );
            },
        },
        new()
        {
            Do = "toHtml",
            Label = "turn text into HTML paragraphs",
            Group = "HTML",
            Takes = Shape.Text | Shape.Number,
            Gives = Shape.Html,
            Make = _ => new StepRun((value, _) => ToHtml(value.Text!)),
        },
    ];

    /// <summary>
    /// Two texts of HTML say the same when they have the same elements and attributes, in whatever order the attributes stand, and the
    /// same words, however they are spaced.
    /// </summary>
    public static bool SaysTheSame(string one, string other) =>
        Form(one) is { Failure: null } a
        && Form(other) is { Failure: null } b
        && string.Equals(a.Value.Text, b.Value.Text, StringComparison.Ordinal);

    private static StepResult Form(string html) => Read<HtmlForm>(html);

    private static StepResult Read<T>(string html)
        where T : HtmlReading, new()
    {
        var simple = new T();
        if (html.Length <= Longest && SimpleHtml.TryRead(html, simple))
            return simple.Result;
        return Parsed(
            html,
            body =>
            {
                var whole = new T();
                Walk(body, whole);
                return whole.Result;
            }
        );
    }

    private static void Walk(INode node, HtmlReading reading)
    {
        foreach (var child in node.ChildNodes)
        {
            if (child is IText words)
            {
                reading.Says(words.Data);
            }
            else if (child is IElement element && !reading.Skips(element.LocalName))
            {
                reading.Opens(element.LocalName, [.. element.Attributes.Select(a => KeyValuePair.Create(a.Name, a.Value))]);
                Walk(element, reading);
                reading.Closes(element.LocalName);
            }
        }
    }

    private static StepResult Parsed(string html, Func<IElement, string> act)
    {
        if (html.Length > Longest)
            return StepResult.Fail($"the HTML has {html.Length:N0} characters; at most {Longest:N0} are read");
        if (OpensTooMany(html))
            return StepResult.Fail($"the HTML is nested more than {Deepest} levels deep");
        using var document = (_parser ??= new HtmlParser()).ParseDocument(html);
        return TooDeep(document.Body!) ? StepResult.Fail($"the HTML is nested more than {Deepest} levels deep") : act(document.Body!);
    }

    // A parser takes time by the square of the depth, so the depth is estimated before it starts. A closing tag counts only where a name
    // like it is open: a parser ignores the others.
    private static bool OpensTooMany(string html)
    {
        var depth = 0;
        var open = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        for (var at = html.IndexOf('<', StringComparison.Ordinal); at >= 0 && at + 1 < html.Length; at = html.IndexOf('<', at + 1))
        {
            var closes = html[at + 1] == '/';
            var name = NameAt(html, closes ? at + 2 : at + 1);
            if (name.Length == 0 || Unclosed.Contains(name))
                continue;
            var opened = open.GetValueOrDefault(name);
            if (closes && opened == 0)
                continue;
            open[name] = opened + (closes ? -1 : 1);
            depth += closes ? -1 : 1;
            if (depth > Deepest)
                return true;
        }

        return false;
    }

    // Longer names are told apart by their beginning; a tag of any name deepens the tree.
    private static string NameAt(string html, int from)
    {
        if (from >= html.Length || !char.IsAsciiLetter(html[from]))
            return "";
        var to = from;
        while (to < html.Length && to < from + 32 && (char.IsAsciiLetterOrDigit(html[to]) || html[to] == '-'))
            to++;
        return html[from..to];
    }

    private static bool TooDeep(INode root)
    {
        var (node, depth) = (root, 0);
        while (true)
        {
            if (node.FirstChild is { } child)
            {
                if (++depth > Deepest)
                    return true;
                node = child;
                continue;
            }

            while (node.NextSibling is null)
            {
                if (node == root || node.Parent is null)
                    return false;
                node = node.Parent;
                depth--;
                if (node == root)
                    return false;
            }

            node = node.NextSibling;
        }
    }

    private static string ToHtml(string text)
    {
        var html = new StringBuilder(text.Length + 16);
        foreach (
            var paragraph in text.ReplaceLineEndings("\n")
                .Split("\n\n", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
        )
            html.Append("<p>").Append(WebUtility.HtmlEncode(paragraph).Replace("\n", "<br>", StringComparison.Ordinal)).Append("</p>");
        return html.ToString();
    }
}
