using System.Text.Json;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>A way out whose acts have parts of one form, which are kept as JSON and by which they are taken back.</summary>
/// <typeparam name="TPart">The form of a part; two that are the same compare as such.</typeparam>
public abstract class WayOut<TPart> : IWayOut
    where TPart : notnull
{
    private static readonly JsonSerializerOptions Form = new(JsonSerializerDefaults.Web);

    /// <inheritdoc/>
    public abstract string Act { get; }

    /// <inheritdoc/>
    public abstract bool Knows(string cause);

    /// <inheritdoc/>
    public abstract Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel);

    /// <inheritdoc cref="IWayOut.TakeAsync"/>
    protected abstract Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<TPart> log,
        string by,
        CancellationToken cancel
    );

    /// <summary>The parts of an act that were begun, where that can be told; those that were noted are known anyway.</summary>
    protected virtual Task<IReadOnlyList<TPart>> BegunAsync(NarbitContext db, long act, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<TPart>>([]);

    /// <inheritdoc cref="IWayOut.UndoAsync"/>
    protected abstract Task<Reason?> UndoAsync(TPart part, string by, CancellationToken cancel);

    /// <inheritdoc cref="IWayOut.LessonsAsync"/>
    protected virtual Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<TPart> parts,
        DateTimeOffset at,
        CancellationToken cancel
    ) => Task.FromResult<IReadOnlyList<Lesson>>([]);

    /// <summary>A part as it was kept before parts were JSON.</summary>
    protected abstract TPart Earlier(string text);

    Task<Outcome<Taken>> IWayOut.TakeAsync(IReadOnlyList<Suggested> some, ActLog log, string by, CancellationToken cancel) =>
        TakeAsync(some, new ActLog<TPart>(log, Write), by, cancel);

    async Task<IReadOnlyList<string>> IWayOut.PartsAsync(
        NarbitContext db,
        long act,
        IReadOnlyList<string> noted,
        CancellationToken cancel
    ) => [.. noted.Select(Read).Union(await BegunAsync(db, act, cancel)).Select(Write)];

    Task<Reason?> IWayOut.UndoAsync(string part, string by, CancellationToken cancel) => UndoAsync(Read(part), by, cancel);

    Task<IReadOnlyList<Lesson>> IWayOut.LessonsAsync(
        NarbitContext db,
        IReadOnlyList<string> parts,
        DateTimeOffset at,
        CancellationToken cancel
    ) => LessonsAsync(db, [.. parts.Select(Read)], at, cancel);

    string IWayOut.Renewed(string earlier) => Write(Earlier(earlier));

    private static string Write(TPart part) => JsonSerializer.Serialize(part, Form);

    private static TPart Read(string part) => JsonSerializer.Deserialize<TPart>(part, Form)!;
}
