using System.Threading.Channels;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Records;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Reading;

/// <summary>A page made ready for the mirror; nothing of it is held as it was read, since several wait at a time.</summary>
/// <param name="Next">What to ask for next; null after the last page.</param>
/// <param name="Listed">How many entries of the system's own list it held.</param>
/// <param name="Total">How many the whole list has, where the system says.</param>
/// <param name="Entries">Its records.</param>
/// <param name="Beside">Records of other kinds that it holds.</param>
internal sealed record FetchedPage(
    string? Next,
    int Listed,
    int? Total,
    IReadOnlyList<MirrorEntry> Entries,
    IReadOnlyDictionary<RecordKind, List<MirrorEntry>> Beside
)
{
    /// <summary>What it holds and cannot be kept.</summary>
    public IReadOnlyList<UnkeptRecord> Unkept { get; init; } = [];

    /// <summary>When it was answered by the system's own clock; null: it does not say.</summary>
    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>When the entry that changed last changed; null: it does not say.</summary>
    public DateTimeOffset? NewestChange { get; init; }
}

/// <summary>Fetches the pages of a list, one after the other, and notices a list that has no end.</summary>
/// <param name="adapter">The system.</param>
/// <param name="read">The reading.</param>
internal sealed class PageFetch(IAdapter adapter, MirrorRead read)
{
    /// <summary>The code of a list without an end.</summary>
    public const string Endless = "read.endless";

    private const int MostEmpty = 3;

    private readonly HashSet<string> _cursors = new(StringComparer.Ordinal);
    private readonly HashSet<(int, ulong)> _pages = [];
    private int _empty;

    /// <summary>Writes every page, and at the end what went wrong if anything did.</summary>
    public async Task AllAsync(ChannelWriter<Outcome<FetchedPage>> pages, CancellationToken cancel)
    {
        try
        {
            var cursor = read.Cursor;
            do
            {
                var page = await adapter.ReadPageAsync(read.Kind, cursor, read.Since, cancel);
                if ((page.Fault ?? EndlessBy(page.Value)) is { } fault)
                {
                    await pages.WriteAsync(fault, cancel);
                    break;
                }

                await pages.WriteAsync(Ready(page.Value), cancel);
                cursor = page.Value.Next;
            } while (cursor is not null);
            pages.Complete();
        }
        catch (OperationCanceledException)
        {
            pages.Complete();
        }
        catch (Exception error)
        {
            pages.Complete(error);
        }
    }

    private FetchedPage Ready(RecordPage page) =>
        new(
            page.Next,
            page.Listed,
            page.Total,
            StoredRecord.Entries(page.Records, FieldsOf(read.Kind)),
            page.Beside.ToDictionary(b => b.Key, b => StoredRecord.Entries(b.Value, FieldsOf(b.Key)))
        )
        {
            Unkept = page.Unkept,
            AnsweredAt = page.AnsweredAt,
            NewestChange = page.NewestChange,
        };

    private FieldSet FieldsOf(RecordKind kind) => adapter.Kinds.First(k => k.Kind == kind).Fields;

    // A system may ignore which page it is asked for, name the same cursor again, or go on with nothing.
    private Reason? EndlessBy(RecordPage page)
    {
        _empty = page.Listed == 0 ? _empty + 1 : 0;
        if (page.Next is null)
            return null;
        if (!_cursors.Add(page.Next))
            return Fault($"it names the page “{Short(page.Next)}” as the next a second time");
        if (page.Records.Count + page.Unkept.Count > 0 && !_pages.Add(Signature(page)))
            return Fault("it sends the same page again; the parameter for the page in its description may be wrong");
        return _empty >= MostEmpty ? Fault($"{_empty} pages in a row are empty, and it says that there are more") : null;
    }

    private static Reason Fault(string what) =>
        new(Endless, $"This list has no end: {what}. Nothing was taken as gone; amend the description, then read again.");

    // What stands on a page, in whatever order.
    private static (int, ulong) Signature(RecordPage page)
    {
        var sum = 0UL;
        foreach (var raw in page.Records.Select(r => r.Raw).Concat(page.Unkept.Select(u => u.Raw)))
            sum += System.IO.Hashing.XxHash64.HashToUInt64(raw.Span);
        return (page.Records.Count + page.Unkept.Count, sum);
    }

    private static string Short(string text) => text.Length <= 40 ? text : text[..39] + "…";
}
