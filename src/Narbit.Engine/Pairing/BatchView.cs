namespace Narbit.Engine.Pairing;

/// <summary>What was put into force together.</summary>
/// <param name="Id">The batch.</param>
/// <param name="By">Who committed it.</param>
/// <param name="At">When.</param>
/// <param name="Note">What for.</param>
/// <param name="Decisions">How many decisions.</param>
/// <param name="UndoneBy">Who took it back; null: nobody.</param>
/// <param name="UndoneAt">When.</param>
public sealed record BatchView(
    long Id,
    string By,
    DateTimeOffset At,
    string? Note,
    int Decisions,
    string? UndoneBy,
    DateTimeOffset? UndoneAt
);
