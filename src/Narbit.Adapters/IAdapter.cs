using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

/// <summary>The secret with which Narbit signs in to a system. Never logged, never returned.</summary>
/// <param name="User">The user, where the system asks for one.</param>
/// <param name="Secret">The password, key or token.</param>
public sealed record Credential(string? User, string Secret)
{
    /// <summary>What a person has granted, for systems that want that; null: nothing.</summary>
    public IGrant? Grant { get; init; }

    /// <summary>Says that there is a credential and nothing of what it is.</summary>
    public override string ToString() => "(credential)";
}

/// <summary>What a person has granted Narbit at a system.</summary>
public interface IGrant
{
    /// <summary>What tokens are fetched with now, see <see cref="Rest.AccessRequest"/>; null: nothing, or it was lost.</summary>
    string? Kept { get; }

    /// <summary>The system gave another in its place.</summary>
    void Renewed(string kept);

    /// <summary>The system does not take it any more. What was kept in its place meanwhile stays.</summary>
    /// <param name="refused">What the system did not take.</param>
    /// <param name="why">In words.</param>
    void Lost(string refused, string why);

    /// <summary>One renewal at a time, whoever asks: many systems give up what was granted when it is used twice.</summary>
    SemaphoreSlim Turn { get; }
}

/// <summary>A record kind as a system offers it.</summary>
/// <param name="Kind">The kind.</param>
/// <param name="Label">What the system calls these records.</param>
/// <param name="Fields">The fields, and the lists within each record.</param>
/// <param name="BatchSize">The most records in one write; 0: it cannot be written.</param>
public sealed record OfferedKind(RecordKind Kind, string Label, FieldSet Fields, int BatchSize)
{
    /// <summary>Whether records can be changed; otherwise they can be created at most.</summary>
    public bool Updates { get; init; } = true;

    /// <summary>Whether records can be looked up by their keys, see <see cref="IAdapter.LookUpAsync"/>.</summary>
    public bool LooksUp { get; init; } = true;

    /// <summary>The most records that are looked up by one request.</summary>
    public int LookedUpAtOnce { get; init; } = 1;

    /// <summary>
    /// Whether what is added or deleted while the list is read moves other entries to another page, so that they may be passed over or
    /// met twice.
    /// </summary>
    public bool Shifts { get; init; }

    /// <summary>The field by whose value records can be found, see <see cref="IAdapter.FindAsync"/>; null: by none.</summary>
    public string? FoundBy { get; init; }

    /// <summary>Whether records can be created.</summary>
    public bool Creates { get; init; }

    /// <summary>
    /// Whether the system makes nothing twice of one idempotency key, so that a creation may be sent again with the one it had.
    /// </summary>
    public bool HonoursKeys { get; init; }

    /// <summary>How long a request may take to be answered. What was not answered by then may be under way for as long again.</summary>
    public TimeSpan AnswersWithin { get; init; }

    /// <summary>Whether records can be ended.</summary>
    public bool Ends { get; init; }

    /// <summary>Whether a reading of everything meets all there is, so that what it did not meet is gone.</summary>
    public bool Whole { get; init; } = true;

    /// <summary>Where new records are given their keys by Narbit: the lowest number; null: the system gives them itself.</summary>
    public long? NewKeysFrom { get; init; }

    /// <summary>
    /// The kind whose list holds these records too, so that reading that one reads both; null: they have a list of their own.
    /// </summary>
    public RecordKind? ReadWith { get; init; }
}

/// <summary>The answer to a connection test.</summary>
/// <param name="Ok">Whether the system can be worked with.</param>
/// <param name="Message">What was found, in plain words.</param>
/// <param name="Milliseconds">How long the first answer took.</param>
public sealed record TestAnswer(bool Ok, string Message, int Milliseconds);

/// <summary>A page of records.</summary>
/// <param name="Records">The records, in the system's order.</param>
/// <param name="Next">What to ask for next, or null after the last page.</param>
/// <param name="Listed">How many entries of the system's own list the page held (a product with three variants counts once).</param>
/// <param name="Total">How many entries the whole list has, where the system says.</param>
public sealed record RecordPage(IReadOnlyList<ReadRecord> Records, string? Next, int Listed, int? Total)
{
    /// <summary>Records of other kinds that the same entries hold, see <see cref="OfferedKind.ReadWith"/>; each key once.</summary>
    public IReadOnlyDictionary<RecordKind, IReadOnlyList<ReadRecord>> Beside { get; init; } =
        new Dictionary<RecordKind, IReadOnlyList<ReadRecord>>();

    /// <summary>What the page holds and cannot be kept; the other records can.</summary>
    public IReadOnlyList<UnkeptRecord> Unkept { get; init; } = [];

    /// <summary>When it was answered by the system's own clock; null: it does not say.</summary>
    public DateTimeOffset? AnsweredAt { get; init; }

    /// <summary>When the entry that changed last changed, as the system says; null: it does not say.</summary>
    public DateTimeOffset? NewestChange { get; init; }
}

/// <summary>An entry of a list that cannot be kept as a record.</summary>
/// <param name="Code">Why, for programs: <see cref="NoKey"/>, <see cref="KeyTwice"/> or <see cref="Unreadable"/>.</param>
/// <param name="Key">Its key; null: it has none.</param>
/// <param name="Words">Why, for people.</param>
/// <param name="Raw">As the system sent it, JSON; bytes that are no text may stand in it.</param>
public sealed record UnkeptRecord(string Code, string? Key, string Words, ReadOnlyMemory<byte> Raw)
{
    /// <summary>It has no key.</summary>
    public const string NoKey = "record.noKey";

    /// <summary>Another record of the same reading has its key.</summary>
    public const string KeyTwice = "record.keyTwice";

    /// <summary>It cannot be read at all.</summary>
    public const string Unreadable = "record.unreadable";

    /// <summary>The other record with its key; empty: there is none.</summary>
    public ReadOnlyMemory<byte> Other { get; init; }
}

/// <summary>A write of one record with all that is in it: it takes effect as a whole or not at all.</summary>
/// <param name="Key">The record's key; for one that is created, whatever tells it from the others of the batch.</param>
/// <param name="IdempotencyKey">The same for every attempt at the same write.</param>
/// <param name="Values">Canonical new values by field name; null empties the field.</param>
public sealed record RecordWrite(string Key, string IdempotencyKey, IReadOnlyDictionary<string, string?> Values)
{
    /// <summary>What is done.</summary>
    public WriteAct Act { get; init; }

    /// <summary>For one that is created: the key of the parent it belongs to, where that is known.</summary>
    public string? Parent { get; init; }

    /// <summary>For one that is created: what it shares with its sisters.</summary>
    public string? Group { get; init; }

    /// <summary>For one that is created where Narbit gives the keys: its key, see <see cref="OfferedKind.NewKeysFrom"/>.</summary>
    public string? GivenKey { get; init; }

    /// <summary>The lists within it that are written with it.</summary>
    public RecordChildren Children { get; init; } = RecordChildren.None;

    /// <summary>Whether an earlier attempt may have arrived; a no to the request of a later one says nothing of that.</summary>
    public bool InDoubt { get; init; }
}

/// <summary>What became of a write.</summary>
public enum WriteFate
{
    /// <summary>The target says that it took it.</summary>
    Accepted,

    /// <summary>The target said no.</summary>
    Refused,

    /// <summary>No answer came: it may or may not have taken effect.</summary>
    Unknown,
}

/// <summary>The target's answer to a write.</summary>
/// <param name="Key">The record's key.</param>
/// <param name="Fate">What became of it.</param>
/// <param name="Why">Why it was refused, or why there was no answer, with the target's own words; null: it was accepted.</param>
/// <param name="NewKey">For one that was created: the key it has now.</param>
public sealed record WriteAnswer(string Key, WriteFate Fate, Reason? Why = null, string? NewKey = null)
{
    /// <summary>How often the request that the write was in was sent.</summary>
    public int Requests { get; init; } = 1;

    /// <summary>What went wrong before the answer came; null: nothing did.</summary>
    public Reason? Trouble { get; init; }
}

/// <summary>The codes of faults that somebody goes by.</summary>
public static class FaultCodes
{
    /// <summary>What a cursor pointed into is no longer there: the reading has to begin afresh.</summary>
    public const string CursorStale = "read.stale";

    /// <summary>The address may not be connected to.</summary>
    public const string Forbidden = "address.forbidden";

    /// <summary>The system failed while it worked on the request: the request may have taken effect.</summary>
    public const string ServerError = "serverError";

    /// <summary>The system said no to the request as a whole.</summary>
    public const string Rejected = "rejected";

    /// <summary>The system said that the request conflicts with what it has; it may be that an earlier attempt arrived.</summary>
    public const string Conflict = "conflict";
}

/// <summary>
/// The code through which Narbit talks to a system. Expected failures are <see cref="Reason"/>s; only cancellation throws.
/// </summary>
public interface IAdapter : IDisposable
{
    /// <summary>The kinds of record that the system offers.</summary>
    IReadOnlyList<OfferedKind> Kinds { get; }

    /// <summary>Whether the system answers, knows the credentials and sends records as described.</summary>
    Task<TestAnswer> TestAsync(CancellationToken cancel);

    /// <summary>Reads one page.</summary>
    /// <param name="kind">A kind the system offers.</param>
    /// <param name="cursor">From the page before, or null for the first.</param>
    /// <param name="changedSince">Only records changed since; null: all.</param>
    /// <param name="cancel">Gives up waiting.</param>
    Task<Outcome<RecordPage>> ReadPageAsync(RecordKind kind, string? cursor, DateTimeOffset? changedSince, CancellationToken cancel);

    /// <summary>
    /// What tells that there is something new to read without reading it, e.g. the newest file and when it was written; null: nothing
    /// does, or nothing is there.
    /// </summary>
    Task<string?> StampAsync(RecordKind kind, CancellationToken cancel) => Task.FromResult<string?>(null);

    /// <summary>Whether <see cref="ReadPageAsync"/> can ask for changed records only.</summary>
    bool ReadsChanges(RecordKind kind);

    /// <summary>
    /// Told once everything that the pages of a reading held is in the mirror: files that were read may be put away now, and not before.
    /// </summary>
    Task StoredAsync(RecordKind kind, CancellationToken cancel) => Task.CompletedTask;

    /// <summary>Reads records by key, as they are now. Keys that no longer exist are missing from the result.</summary>
    Task<Outcome<IReadOnlyList<ReadRecord>>> LookUpAsync(RecordKind kind, IReadOnlyCollection<string> keys, CancellationToken cancel);

    /// <summary>Reads the records that have one of some values in the field <see cref="OfferedKind.FoundBy"/>, as they are now.</summary>
    Task<Outcome<IReadOnlyList<ReadRecord>>> FindAsync(RecordKind kind, IReadOnlyCollection<string> values, CancellationToken cancel) =>
        Task.FromResult<Outcome<IReadOnlyList<ReadRecord>>>(new Reason("noFind", "The system finds records by their keys alone."));

    /// <summary>What of a reply is kept as a record's raw form, in one word; null: it cannot be read again from that alone.</summary>
    string? KeptAs(RecordKind kind) => null;

    /// <summary>Reads a record again from its raw form, where <see cref="KeptAs"/> says that this can be done.</summary>
    /// <param name="kind">Its kind.</param>
    /// <param name="raw">As the system sent it.</param>
    /// <param name="around">What stood around it; empty: nothing did.</param>
    /// <returns>The record without its raw form; null: it has no key.</returns>
    ReadRecord? Understand(RecordKind kind, ReadOnlyMemory<byte> raw, ReadOnlyMemory<byte> around) => null;

    /// <summary>
    /// Writes at most <see cref="OfferedKind.BatchSize"/> records, all of them by the same act, and answers for each. Nothing that may
    /// have taken effect is repeated, unless the system makes nothing twice of it; what became of it is unknown then.
    /// </summary>
    Task<IReadOnlyList<WriteAnswer>> WriteAsync(RecordKind kind, IReadOnlyList<RecordWrite> writes, CancellationToken cancel);
}
