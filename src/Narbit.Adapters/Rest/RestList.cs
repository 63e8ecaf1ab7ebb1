using Narbit.Core.Records;

namespace Narbit.Adapters.Rest;

/// <summary>How records are listed.</summary>
public sealed record RestList : RestCall
{
    /// <summary>Where the reply keeps the list.</summary>
    public string? Records { get; init; }

    /// <summary>The kind whose list holds these records too, instead of a path; one reading then reads both.</summary>
    public RecordKind? With { get; init; }

    /// <summary>
    /// Where each entry of the list keeps the records nested in it, several or a single one; their fields reach the entry with a path
    /// that starts with ^.
    /// </summary>
    public string? Each { get; init; }

    /// <summary>How pages follow each other.</summary>
    public RestPaging Paging { get; init; }

    /// <summary>The parameter for the cursor, the page number, the offset or the last key.</summary>
    public string? PageParameter { get; init; }

    /// <summary>The number of the first page.</summary>
    public int FirstPage { get; init; } = 1;

    /// <summary>The parameter for the page size.</summary>
    public string? SizeParameter { get; init; }

    /// <summary>The page size to ask for.</summary>
    public int Size { get; init; } = 100;

    /// <summary>Where the reply keeps the next cursor.</summary>
    public string? NextPath { get; init; }

    /// <summary>Where the reply keeps the number of pages.</summary>
    public string? PagesPath { get; init; }

    /// <summary>Where the reply keeps the number of entries in the whole list.</summary>
    public string? TotalPath { get; init; }

    /// <summary>The parameter that asks for records changed since an instant (ISO 8601).</summary>
    public string? ChangedSince { get; init; }

    /// <summary>The form in which it is asked since when, as for fields; null: ISO 8601.</summary>
    public string? ChangedSinceFormat { get; init; }

    /// <summary>
    /// Where an entry says when it changed. The next reading asks for what changed since the latest of these, by the system's own clock;
    /// null: since its reply's date.
    /// </summary>
    public string? ChangedAt { get; init; }

    /// <summary>The form of that instant, as for fields; null: ISO 8601.</summary>
    public string? ChangedAtFormat { get; init; }

    /// <summary>
    /// How it lists what changed last first, where it cannot be asked for changes alone: it is then read until an entry is older. Null: it
    /// does not.
    /// </summary>
    public RestNewestFirst? NewestFirst { get; init; }
}
