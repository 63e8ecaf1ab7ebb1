using System.Globalization;
using System.Net;
using System.Text;
using Narbit.Core.Mismatches;

namespace Narbit.Core.Telling;

/// <summary>Writes messages.</summary>
public static class News
{
    /// <summary>What somebody is told of unless they say otherwise: what does harm at once, the rest once a day.</summary>
    public static WhenTold Usual(Harm harm) => harm <= Harm.Stopped ? WhenTold.AtOnce : WhenTold.Daily;

    /// <summary>A message of what is new, or of all that is open.</summary>
    /// <param name="workspace">Whose it is.</param>
    /// <param name="lines">The causes; at least one.</param>
    /// <param name="daily">Whether it sums a day up.</param>
    public static Message Write(string workspace, IReadOnlyList<NewsLine> lines, bool daily)
    {
        IReadOnlyList<NewsLine> sorted = [.. lines.OrderBy(l => l.Cause.Harm).ThenByDescending(l => l.Count)];
        var total = sorted.Sum(l => l.Count);
        var subject = daily
            ? $"{workspace}: {Number(total)} open"
            : $"{workspace}: {sorted[0].Cause.Heading.ToLowerInvariant()}{(sorted.Count > 1 ? " and more" : "")} ({Number(total)})";
        return new Message(OneLine(subject), Text(sorted, daily), Html(sorted, daily));
    }

    private static string Intro(bool daily) => daily ? "What needs somebody:" : "This is new:";

    private static string Text(IReadOnlyList<NewsLine> lines, bool daily)
    {
        var text = new StringBuilder(Intro(daily)).Append("\r\n\r\n");
        foreach (var line in lines)
            text.Append(
                CultureInfo.InvariantCulture,
                $"{Number(line.Count)} × {line.Cause.Heading} ({string.Join(", ", line.Systems)})\r\n{line.Link}\r\n\r\n"
            );
        return text.ToString();
    }

    private static string Html(IReadOnlyList<NewsLine> lines, bool daily)
    {
        var html = new StringBuilder("<p>").Append(Intro(daily)).Append("</p><table>");
        foreach (var line in lines)
            html.Append("<tr><td align=\"right\"><b>")
                .Append(Number(line.Count))
                .Append("</b></td><td><a href=\"")
                .Append(WebUtility.HtmlEncode(line.Link.AbsoluteUri))
                .Append("\">")
                .Append(WebUtility.HtmlEncode(line.Cause.Heading))
                .Append("</a></td><td>")
                .Append(WebUtility.HtmlEncode(string.Join(", ", line.Systems)))
                .Append("</td></tr>");
        return html.Append("</table>").ToString();
    }

    // A subject is one line, whatever somebody has called their workspace.
    private static string OneLine(string text) => string.Join(' ', text.Split(['\r', '\n'], StringSplitOptions.RemoveEmptyEntries));

    private static string Number(int count) => count.ToString("N0", CultureInfo.InvariantCulture);
}
