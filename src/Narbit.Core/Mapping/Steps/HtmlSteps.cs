using System.Net;
using System.Text;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Ganss.Xss;

namespace Narbit.Core.Mapping.Steps;

/// <summary>Steps between HTML and text. HTML is parsed as the WHATWG HTML standard says (AngleSharp); what is allowed is decided by HtmlSanitizer.</summary>
internal static class HtmlSteps
{
    // Deeper documents would exhaust the stack of whatever walks them, and longer ones hold everybody up; nobody writes a description so.
    private const int Deepest = 200;
    private const int Longest = 1_000_000;
    private static readonly HashSet<string> Unclosed = new(StringComparer.OrdinalIgnoreCase) { "p", "li", "td", "th", "tr", "dt", "dd", "br", "hr", "img", "input", "meta", "link", "col", "wbr", "option", "thead", "tbody" };
    private const string Usual = "p,br,ul,ol,li,strong,em,b,i,u,h2,h3,h4,a,table,thead,tbody,tr,th,td,img,blockquote,hr,sub,sup";
    private static readonly HashSet<string> Blocks = new(StringComparer.OrdinalIgnoreCase) { "P", "DIV", "UL", "OL", "LI", "H1", "H2", "H3", "H4", "H5", "H6", "TABLE", "TR", "BLOCKQUOTE", "SECTION", "ARTICLE", "HR", "DL", "DT", "DD" };
    private static readonly HashSet<string> Silent = new(StringComparer.OrdinalIgnoreCase) { "SCRIPT", "STYLE", "TEMPLATE", "NOSCRIPT", "HEAD", "IFRAME", "OBJECT" };

    public static IReadOnlyList<StepKind> Kinds { get; } =
    [
        new()
        {
            Do = "stripHtml", Label = "take the text out of HTML", Group = "HTML", Takes = Shape.Html | Shape.Text, Gives = Shape.Text,
            Make = _ => new StepRun((value, _) => Parsed(value.Text!, Plain)),
        },
        new()
        {
            Do = "sanitise", Label = "keep only allowed HTML", Group = "HTML", Takes = Shape.Html | Shape.Text, Gives = Shape.Html,
            Parameters = [new StepParameter("tags", "allowed tags", ParameterKind.Text, Default: Usual)],
            Make = a =>
            {
                var sanitizer = new HtmlSanitizer(new HtmlSanitizerOptions
                {
                    AllowedTags = a.Text("tags").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).ToHashSet(StringComparer.OrdinalIgnoreCase),
                    AllowedAttributes = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "href", "title", "alt", "src", "colspan", "rowspan" },
                    AllowedSchemes = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "https", "http", "mailto" },
                    UriAttributes = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { "href", "src" },
                });
                return new StepRun((value, _) => Parsed(value.Text!, body => sanitizer.SanitizeDom((IHtmlDocument)body.Owner!, (IHtmlElement)body, "").Body!.InnerHtml.Trim()));
            },
        },
        new()
        {
            Do = "toHtml", Label = "turn text into HTML paragraphs", Group = "HTML", Takes = Shape.Text | Shape.Number, Gives = Shape.Html,
            Make = _ => new StepRun((value, _) => ToHtml(value.Text!)),
        },
    ];

    /// <summary>Two texts of HTML say the same when they have the same elements and attributes, in whatever order the attributes stand, and the same words, however they are spaced.</summary>
    public static bool SaysTheSame(string one, string other) => Form(one) is { } a && Form(other) is { } b && string.Equals(a, b, StringComparison.Ordinal);

    private static StepResult Parsed(string html, Func<IElement, string> act)
    {
        if (html.Length > Longest) return StepResult.Fail($"the HTML has {html.Length:N0} characters; at most {Longest:N0} are read");
        if (OpensTooMany(html)) return StepResult.Fail($"the HTML is nested more than {Deepest} levels deep");
        using var document = new HtmlParser().ParseDocument(html);
        return TooDeep(document.Body!) ? StepResult.Fail($"the HTML is nested more than {Deepest} levels deep") : act(document.Body!);
    }

    // A parser takes time by the square of the depth, so the depth is estimated before it starts.
    private static bool OpensTooMany(string html)
    {
        var depth = 0;
        for (var at = html.IndexOf('<', StringComparison.Ordinal); at >= 0 && at + 1 < html.Length; at = html.IndexOf('<', at + 1))
        {
            if (html[at + 1] == '/')
            {
                if (depth > 0 && !Unclosed.Contains(Name(at + 2))) depth--;
            }
            else if (char.IsAsciiLetter(html[at + 1]) && !Unclosed.Contains(Name(at + 1)) && ++depth > Deepest)
            {
                return true;
            }
        }

        return false;

        string Name(int from)
        {
            var to = from;
            while (to < html.Length && to < from + 12 && char.IsAsciiLetterOrDigit(html[to])) to++;
            return html[from..to];
        }
    }

    private static string? Form(string html)
    {
        if (html.Length > Longest || OpensTooMany(html)) return null;
        using var document = new HtmlParser().ParseDocument(html);
        if (TooDeep(document.Body!)) return null;
        var form = new StringBuilder();
        Write(document.Body!);
        return form.ToString();

        void Write(INode node)
        {
            switch (node)
            {
                case IText text:
                    Words(text.Data);
                    break;
                case IElement element:
                    form.Append('<').Append(element.LocalName);
                    foreach (var attribute in element.Attributes.OrderBy(x => x.Name, StringComparer.Ordinal)) form.Append(' ').Append(attribute.Name).Append('=').Append('"').Append(attribute.Value.Trim()).Append('"');
                    form.Append('>');
                    foreach (var child in element.ChildNodes) Write(child);
                    while (form[^1] == ' ') form.Length--;
                    form.Append("</>");
                    break;
            }
        }

        void Words(string text)
        {
            foreach (var c in text)
            {
                if (!char.IsWhiteSpace(c)) form.Append(c);
                else if (form[^1] is not (' ' or '>')) form.Append(' ');
            }
        }
    }

    private static bool TooDeep(INode root)
    {
        var (node, depth) = (root, 0);
        while (true)
        {
            if (node.FirstChild is { } child)
            {
                if (++depth > Deepest) return true;
                node = child;
                continue;
            }

            while (node.NextSibling is null)
            {
                if (node == root || node.Parent is null) return false;
                node = node.Parent;
                depth--;
                if (node == root) return false;
            }

            node = node.NextSibling;
        }
    }

    private static string Plain(IElement body)
    {
        var text = new StringBuilder();
        Walk(body);
        return string.Join('\n', text.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));

        void Walk(INode node)
        {
            foreach (var child in node.ChildNodes)
            {
                if (child is IText words)
                {
                    foreach (var c in words.Data)
                    {
                        if (!char.IsWhiteSpace(c)) text.Append(c);
                        else if (text.Length > 0 && text[^1] is not (' ' or '\n')) text.Append(' ');
                    }
                }
                else if (child is IElement element && !Silent.Contains(element.TagName))
                {
                    var block = Blocks.Contains(element.TagName);
                    if (block || element.TagName == "BR") text.Append('\n');
                    else if (element.TagName is "TD" or "TH" && text.Length > 0 && !char.IsWhiteSpace(text[^1])) text.Append(' ');
                    Walk(element);
                    if (block) text.Append('\n');
                }
            }
        }
    }

    private static string ToHtml(string text)
    {
        var html = new StringBuilder(text.Length + 16);
        foreach (var paragraph in text.ReplaceLineEndings("\n").Split("\n\n", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            html.Append("<p>").Append(WebUtility.HtmlEncode(paragraph).Replace("\n", "<br>", StringComparison.Ordinal)).Append("</p>");
        return html.ToString();
    }
}
