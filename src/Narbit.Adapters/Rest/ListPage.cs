using System.Globalization;
using System.Text.Json;
using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>One page of a list: how it is asked for, and what comes after it.</summary>
/// <param name="list">The list.</param>
/// <param name="cursor">What the page before said to ask for; null: it is the first.</param>
/// <param name="changedSince">Only records changed since; null: all.</param>
/// <param name="of">The key of the record whose list it is; null: it is nobody's.</param>
internal sealed class ListPage(RestList list, string? cursor, DateTimeOffset? changedSince = null, string? of = null)
{
    // What is read until an entry is older has pages of its own, whose numbers say nothing of the whole list.
    private bool UntilOlder => changedSince is not null && list is { ChangedSince: null, NewestFirst: not null };

    /// <summary>What comes after a page.</summary>
    /// <param name="Cursor">What to ask for next; null: nothing.</param>
    public readonly record struct Following(string? Cursor);

    /// <summary>What is asked, where, and by which method.</summary>
    public RestRequest Request(int attempts)
    {
        var body = Body();
        return new RestRequest
        {
            Method = new HttpMethod(list.Method),
            Path = body.Path(of),
            Body = body.Content(),
            Attempts = attempts,
        };
    }

    private RestBody Body()
    {
        // The address of a next page says all there is to say.
        if (list.Paging == RestPaging.Link && cursor is not null)
            return new RestBody(list with { Path = cursor });
        var body = new RestBody(list).Say(list.SizeParameter, list.Size);
        if (list.Paging is RestPaging.Page or RestPaging.Offset)
            body.Say(list.PageParameter, Number);
        else if (cursor is not null)
            body.Say(list.PageParameter, cursor);
        if (UntilOlder)
            body.Say(list.NewestFirst!.Parameter, list.NewestFirst.Value ?? "");
        else if (changedSince is { } since)
            body.Say(list.ChangedSince, Said(since));
        return body;
    }

    // Of the page, or of the entries before it.
    private int Number =>
        cursor is not null ? int.Parse(cursor, CultureInfo.InvariantCulture)
        : list.Paging == RestPaging.Page ? list.FirstPage
        : 0;

    /// <summary>How many entries the whole list has, where the reply says so.</summary>
    public int? Total(JsonElement root) => UntilOlder ? null : Whole(root);

    private int? Whole(JsonElement root) =>
        new JsonAt(list.TotalPath).TextIn(root) is { } text && int.TryParse(text, CultureInfo.InvariantCulture, out var number)
            ? number
            : null;

    /// <summary>When the entry that changed last changed, as they say; null: they do not say.</summary>
    public DateTimeOffset? NewestChange(IReadOnlyList<JsonElement> entries) => Stamp is null ? null : entries.Select(ChangedAt).Max();

    /// <summary>What to ask for next, or why that cannot be known.</summary>
    /// <param name="reply">The reply.</param>
    /// <param name="entries">The entries it had.</param>
    /// <param name="lastKey">The key of the last record in them; null: there is none.</param>
    /// <param name="address">The system's address.</param>
    public Outcome<Following> Next(RestReply reply, IReadOnlyList<JsonElement> entries, string? lastKey, Uri address)
    {
        if (UntilOlder && entries.Any(e => ChangedAt(e) < changedSince))
            return new Following(null);
        var listed = entries.Count;
        switch (list.Paging)
        {
            case RestPaging.Cursor:
                return new Following(new JsonAt(list.NextPath).TextIn(reply.Root) is { Length: > 0 } next ? next : null);
            case RestPaging.Page:
                var more = int.TryParse(new JsonAt(list.PagesPath).TextIn(reply.Root), CultureInfo.InvariantCulture, out var pages)
                    ? Number - list.FirstPage + 1 < pages
                    : listed >= list.Size;
                return new Following(more ? Text(Number + 1) : null);
            case RestPaging.Offset:
                var left = Whole(reply.Root) is { } total ? Number + listed < total : listed >= list.Size;
                return new Following(left && listed > 0 ? Text(Number + listed) : null);
            case RestPaging.LastKey:
                return new Following(listed >= list.Size ? lastKey : null);
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

    // Where an entry says when it changed.
    private FieldReader? Stamp { get; } =
        list switch
        {
            { NewestFirst: { } order } => StampAt(order.Path, order.Format),
            { ChangedAt: { } path } => StampAt(path, list.ChangedAtFormat),
            _ => null,
        };

    private static FieldReader StampAt(string path, string? format) =>
        new(
            new RestField
            {
                Name = path,
                Path = path,
                Type = FieldType.Instant,
                Format = format,
            }
        );

    // An entry that does not say when it changed is no reason to stop.
    private DateTimeOffset? ChangedAt(JsonElement entry)
    {
        List<FieldProblem>? unread = null;
        return Stamp!.Read(entry, entry, ref unread) is { } canonical
            ? DateTimeOffset.Parse(canonical, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal)
            : null;
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);

    private string Said(DateTimeOffset since) =>
        list.ChangedSinceFormat is { } form && EpochForm.Is(form)
            ? EpochForm.Count(since, form).ToString(CultureInfo.InvariantCulture)
            : since.UtcDateTime.ToString(list.ChangedSinceFormat ?? "yyyy-MM-dd'T'HH:mm:ss.FFFFFFF'Z'", CultureInfo.InvariantCulture);
}
