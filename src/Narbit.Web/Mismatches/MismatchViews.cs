using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data.Mismatches;
using Narbit.Engine.Systems;

namespace Narbit.Web.Mismatches;

/// <summary>A cause with all that is open of it.</summary>
internal sealed record CauseView
{
    public required string Cause { get; init; }

    public required string Heading { get; init; }

    public required Harm Harm { get; init; }

    public required int Count { get; init; }

    /// <summary>The money in it, by currency; empty: none is.</summary>
    public required IReadOnlyList<Amount> Worth { get; init; }

    /// <summary>How many pieces it is about; null: about none.</summary>
    public double? Pieces { get; init; }

    /// <summary>Since when the oldest is so.</summary>
    public required DateTimeOffset Since { get; init; }

    /// <summary>The systems that have the records.</summary>
    public required IReadOnlyList<SystemTag> Systems { get; init; }

    /// <summary>How many were open at the end of each of the last 14 days, today's last.</summary>
    public required IReadOnlyList<int> Trend { get; init; }
}

/// <summary>All that does one harm: a record that has several of its causes is counted once.</summary>
/// <param name="Harm">The harm.</param>
/// <param name="Records">How many records.</param>
/// <param name="Pieces">How many pieces they are about; null: about none.</param>
/// <param name="Worth">The money in them, by currency.</param>
/// <param name="Since">Since when the oldest is so.</param>
/// <param name="Systems">The systems that have the records.</param>
internal sealed record HarmView(
    Harm Harm,
    int Records,
    double? Pieces,
    IReadOnlyList<Amount> Worth,
    DateTimeOffset Since,
    IReadOnlyList<SystemTag> Systems
);

/// <summary>A field of a record that stands alone.</summary>
public sealed record Fact(string Label, string Text, string? Unit);

/// <summary>All causes with what is open of them.</summary>
/// <param name="Total">How many mismatches are open under the filter.</param>
/// <param name="Causes">The causes, what harms most first.</param>
/// <param name="Owners">Who has some of them.</param>
/// <param name="Records">How many records they are of, each once; null: nothing counts them so, or there are too many.</param>
internal sealed record CausesView(int Total, IReadOnlyList<CauseView> Causes, IReadOnlyList<string> Owners, int? Records);

/// <summary>A mismatch in a list, with the way out that was computed.</summary>
internal sealed record MismatchRow
{
    public required long Id { get; init; }

    public required string Cause { get; init; }

    public required string Heading { get; init; }

    public required Harm Harm { get; init; }

    public SystemTag? System { get; init; }

    public SystemTag? Other { get; init; }

    public required RecordKind Kind { get; init; }

    public required string Key { get; init; }

    public string? OtherKey { get; init; }

    public string? Reference { get; init; }

    public string? Caption { get; init; }

    public required string Words { get; init; }

    public string? Subject { get; init; }

    public double? Pieces { get; init; }

    public Amount? Worth { get; init; }

    public required DateTimeOffset Since { get; init; }

    public required int Seen { get; init; }

    public required int CameBack { get; init; }

    public required MismatchState State { get; init; }

    public DateTimeOffset? Until { get; init; }

    public string? Owner { get; init; }

    public string? SettledBy { get; init; }

    public DateTimeOffset? EndedAt { get; init; }

    public Suggestion? Suggestion { get; init; }

    /// <summary>What would be done, as one word: whoever takes the way out says it, and is refused where it is another by then.</summary>
    public string? Fingerprint { get; init; }

    /// <summary>Where it is decided by hand.</summary>
    public required string Link { get; init; }
}

/// <summary>Something that was done about a mismatch.</summary>
internal sealed record ActView(
    long Id,
    MismatchActKind Kind,
    string By,
    DateTimeOffset At,
    string? Words,
    int Count,
    DateTimeOffset? UndoneAt,
    string? UndoneBy
);

/// <summary>A mismatch with both sides, and with those that are alike.</summary>
internal sealed record MismatchView
{
    public required MismatchRow Row { get; init; }

    /// <summary>Both records, field against field; empty: there is no record, or neither is known.</summary>
    public required IReadOnlyList<SeamRow> Seam { get; init; }

    /// <summary>The record's fields, where there is no other to compare it with.</summary>
    public required IReadOnlyList<Fact> Facts { get; init; }

    /// <summary>How many others that are open are alike: of the same cause, and about the same.</summary>
    public required int Alike { get; init; }

    /// <summary>How many others that are open are of the same cause.</summary>
    public required int OfCause { get; init; }

    public required DateTimeOffset FirstSeenAt { get; init; }

    public required DateTimeOffset SeenAt { get; init; }

    /// <summary>What was done about it, the newest first.</summary>
    public required IReadOnlyList<ActView> Acts { get; init; }
}
