using Narbit.Core;
using Narbit.Core.Records;

namespace Narbit.Adapters;

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
