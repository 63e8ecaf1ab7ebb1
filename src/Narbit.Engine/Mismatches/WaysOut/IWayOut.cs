using Narbit.Core;
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

    /// <summary>The parts of an act, as they are kept: those that were noted, and those that were begun when the process ended.</summary>
    Task<IReadOnlyList<string>> PartsAsync(NarbitContext db, long act, IReadOnlyList<string> noted, CancellationToken cancel);

    /// <summary>Takes a part back.</summary>
    /// <param name="part">The part, as it is kept.</param>
    /// <param name="by">Who does it.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Why it stays; null: it is as before, whoever took it back.</returns>
    Task<Reason?> UndoAsync(string part, string by, CancellationToken cancel);

    /// <summary>What was learned by it, and how often that has acted since.</summary>
    /// <param name="db">Where records are.</param>
    /// <param name="parts">What was done, as it is kept.</param>
    /// <param name="at">When it was done.</param>
    /// <param name="cancel">Gives up.</param>
    Task<IReadOnlyList<Lesson>> LessonsAsync(NarbitContext db, IReadOnlyList<string> parts, DateTimeOffset at, CancellationToken cancel);

    /// <summary>A part as an earlier version kept it, in the form of today.</summary>
    string Renewed(string earlier);
}
