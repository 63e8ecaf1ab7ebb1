using Narbit.Engine.Mismatches.WaysOut;

namespace Narbit.Engine.Mismatches;

/// <summary>Something that was done at the desk and holds for what comes later.</summary>
/// <param name="ActId">By which it is taken back.</param>
/// <param name="By">Who did it.</param>
/// <param name="At">When.</param>
/// <param name="Count">How many mismatches it settled.</param>
/// <param name="Lessons">What was learned.</param>
/// <param name="UndoneAt">When it was taken back; null: it holds.</param>
/// <param name="UndoneBy">Who took it back.</param>
public sealed record Learned(
    long ActId,
    string By,
    DateTimeOffset At,
    int Count,
    IReadOnlyList<Lesson> Lessons,
    DateTimeOffset? UndoneAt,
    string? UndoneBy
);
