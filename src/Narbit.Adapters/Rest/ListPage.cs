using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>One page of a list: how it is asked for, and what comes after it.</summary>
/// <param name="resource">The records.</param>
/// <param name="cursor">What the page before said to ask for; null: it is the first.</param>
/// <param name="changedSince">Only records changed since; null: all.</param>
internal sealed class ListPage(ResourceReader resource, string? cursor, DateTimeOffset? changedSince)
{
    private readonly RestList _list = resource.Document.List;

    /// <summary>What comes after a page.</summary>
    /// <param name="Cursor">What to ask for next; null: nothing.</param>
    public readonly record struct Following(string? Cursor);

    /// <summary>What is asked, and by which method.</summary>
    public (RestBody Body, string Method) Call
    {
        get
        {
            // The address of a next page says all there is to say.
            if (_list.Paging == RestPaging.Link && cursor is not null)
                return (new RestBody(_list with { Path = cursor }), _list.Method);
            var body = new RestBody(_list).Say(_list.SizeParameter, _list.Size);
            if (_list.Paging is RestPaging.Page or RestPaging.Offset)
                body.Say(_list.PageParameter, Number);
            else if (cursor is not null)
                body.Say(_list.PageParameter, cursor);
            if (changedSince is { } since)
                body.Say(_list.ChangedSince, Said(since));
            return (body, _list.Method);
        }
    }

    // Of the page, or of the entries before it.
    private int Number =>
        cursor is not null ? int.Parse(cursor, CultureInfo.InvariantCulture)
        : _list.Paging == RestPaging.Page ? _list.FirstPage
        : 0;

    /// <summary>How many entries the whole list has, where the reply says so.</summary>
    public int? Total(JsonElement root) =>
        resource.Total.TextIn(root) is { } text && int.TryParse(text, CultureInfo.InvariantCulture, out var number) ? number : null;

    /// <summary>What to ask for next, or why that cannot be known.</summary>
    /// <param name="reply">The reply.</param>
    /// <param name="listed">How many entries it had.</param>
    /// <param name="records">The records in them.</param>
    /// <param name="address">The system's address.</param>
    public Outcome<Following> Next(RestReply reply, int listed, IReadOnlyList<ReadRecord> records, Uri address)
    {
        switch (_list.Paging)
        {
            case RestPaging.Cursor:
                return new Following(resource.Next.TextIn(reply.Root) is { Length: > 0 } next ? next : null);
            case RestPaging.Page:
                var more = int.TryParse(resource.Pages.TextIn(reply.Root), CultureInfo.InvariantCulture, out var pages)
                    ? Number - _list.FirstPage + 1 < pages
                    : listed >= _list.Size;
                return new Following(more ? Text(Number + 1) : null);
            case RestPaging.Offset:
                var left = Total(reply.Root) is { } total ? Number + listed < total : listed >= _list.Size;
                return new Following(left && listed > 0 ? Text(Number + listed) : null);
            case RestPaging.LastKey:
                return new Following(listed >= _list.Size && records.Count > 0 ? records[^1].Key : null);
            case RestPaging.Link:
                return LinkTarget(reply.Link) is { } link ? Below(link, address) : new Following(null);
            default:
                return new Following(null);
        }
    }

    // RFC 8288: <address>; rel="next"; other parameters may stand around rel, and it may have several words.
    private static string? LinkTarget(string? header)
    {
        foreach (var link in (header ?? "").Split('<', StringSplitOptions.RemoveEmptyEntries))
        {
            var end = link.IndexOf('>', StringComparison.Ordinal);
            if (end > 0 && link[(end + 1)..].Split(';', ',').Any(IsNext))
                return link[..end];
        }

        return null;
    }

    private static bool IsNext(string parameter)
    {
        var parts = parameter.Split('=', 2, StringSplitOptions.TrimEntries);
        return parts is [var name, var value]
            && name.Equals("rel", StringComparison.OrdinalIgnoreCase)
            && value.Trim('"').Split(' ').Contains("next", StringComparer.OrdinalIgnoreCase);
    }

    private static Outcome<Following> Below(string link, Uri address)
    {
        var target = new Uri(address, link);
        return target.AbsoluteUri.StartsWith(address.AbsoluteUri, StringComparison.Ordinal)
            ? new Following(target.AbsoluteUri[address.AbsoluteUri.Length..])
            : new Reason("read.elsewhere", $"its list goes on at {target.GetLeftPart(UriPartial.Path)}, which is not below its address.");
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    private string Said(DateTimeOffset since) =>
        _list.ChangedSinceFormat is { } form && EpochForm.Is(form)
            ? EpochForm.Count(since, form).ToString(CultureInfo.InvariantCulture)
            : since.UtcDateTime.ToString(_list.ChangedSinceFormat ?? "yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture);
}
