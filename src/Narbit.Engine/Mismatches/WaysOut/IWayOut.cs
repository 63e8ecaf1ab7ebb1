using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>
/// A way out of some causes: what it suggests, and how that is done through the same doors that a person would go through, so that it is
/// checked, written into versions and batches, and taken back as everything else.
/// </summary>
public interface IWayOut
{
    /// <summary>A stable word for programs.</summary>
    string Act { get; }

    /// <summary>Whether it may know a way out of a cause.</summary>
    bool Knows(string cause);

    /// <summary>Suggests for those of which it can; all at once, so that ten thousand cost little more than one.</summary>
    Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel);

    /// <summary>Takes the way out of all of them.</summary>
    /// <param name="some">The mismatches.</param>
    /// <param name="log">Where each part is noted, as soon as it is done at the latest.</param>
    /// <param name="by">Who does it.</param>
    /// <param name="cancel">Gives up between two parts.</param>
    /// <returns>What it did, or why it could not be done at all.</returns>
    Task<Outcome<Taken>> TakeAsync(IReadOnlyList<Suggested> some, ActLog log, string by, CancellationToken cancel);

    /// <summary>The parts of an act that were begun, where its way out can tell; those that were noted are known anyway.</summary>
    Task<IReadOnlyList<string>> BegunAsync(NarbitContext db, long act, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<string>>([]);

    /// <summary>Takes a part back.</summary>
    /// <returns>Why it stays; null: it is as before, whoever took it back.</returns>
    Task<Reason?> UndoAsync(string part, string by, CancellationToken cancel);

    /// <summary>What was learned by it, and how often that has acted since.</summary>
    /// <param name="db">Where records are.</param>
    /// <param name="undo">How what was done is taken back.</param>
    /// <param name="at">When it was done.</param>
    /// <param name="cancel">Gives up.</param>
    Task<IReadOnlyList<Lesson>> LessonsAsync(NarbitContext db, string undo, DateTimeOffset at, CancellationToken cancel) =>
        Task.FromResult<IReadOnlyList<Lesson>>([]);
}
