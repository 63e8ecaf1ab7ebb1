using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Web.Telling;

/// <summary>What is open, by cause, as a feed (Atom, RFC 4287), for tools that people have open anyway; the newest first.</summary>
internal static class FeedApi
{
    private static readonly XNamespace Atom = "http://www.w3.org/2005/Atom";

    public static void Map(IEndpointRouteBuilder app) => app.MapGet("/feeds/mismatches.atom", GetAsync).ExcludeFromDescription();

    private static async Task<IResult> GetAsync(HttpRequest request, Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var here = $"{request.Scheme}://{request.Host}";
        var name = await db.Workspaces.Select(w => w.Name).FirstOrDefaultAsync(cancel) ?? "Narbit";
        var open = await db
            .Mismatches.Where(m => m.State == MismatchState.Open)
            .GroupBy(m => m.Cause)
            .Select(g => new
            {
                Cause = g.Key,
                Count = g.Count(),
                At = g.Max(m => m.OpenedAt),
            })
            .ToListAsync(cancel);
        var entries = open.OrderByDescending(o => o.At).Select(o => Entry(here, MismatchCauses.Of(o.Cause), o.Count, o.At)).ToList();
        var updated = open.Select(o => o.At).DefaultIfEmpty(clock.GetUtcNow()).Max();
        var feed = new XElement(
            Atom + "feed",
            new XElement(Atom + "id", $"{here}/feeds/mismatches.atom"),
            new XElement(Atom + "title", $"{name}: what needs somebody"),
            new XElement(Atom + "updated", Time(updated)),
            new XElement(Atom + "author", new XElement(Atom + "name", "Narbit")),
            Link($"{here}/feeds/mismatches.atom", "self"),
            Link($"{here}/mismatches", "alternate"),
            entries
        );
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"utf-8\"?>\n").Append(feed.ToString());
        return TypedResults.Text(text.ToString(), "application/atom+xml", Encoding.UTF8);
    }

    // A cause of which something new opened is a new entry, so that readers show it anew.
    private static XElement Entry(string here, MismatchCause cause, int count, DateTimeOffset at) =>
        new(
            Atom + "entry",
            new XElement(Atom + "id", $"{here}/mismatches?cause={Uri.EscapeDataString(cause.Code)}&from={Uri.EscapeDataString(Time(at))}"),
            new XElement(Atom + "title", $"{count.ToString("N0", CultureInfo.InvariantCulture)} × {cause.Heading}"),
            new XElement(Atom + "updated", Time(at)),
            new XElement(Atom + "category", new XAttribute("term", cause.Harm)),
            Link($"{here}/mismatches?cause={Uri.EscapeDataString(cause.Code)}", "alternate")
        );

    private static XElement Link(string to, string rel) => new(Atom + "link", new XAttribute("rel", rel), new XAttribute("href", to));

    private static string Time(DateTimeOffset at) => at.UtcDateTime.ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
}
