namespace Narbit.Sandbox.Faults;

/// <summary>How badly a stand-in behaves: each a share of its requests, from 0 to 1.</summary>
/// <param name="TooMany">Answers 429.</param>
/// <param name="Error">Answers 500 and does nothing.</param>
/// <param name="LostBefore">Never answers and does nothing.</param>
/// <param name="LostAfter">Does what was asked and never answers.</param>
/// <param name="Twice">Receives the request twice.</param>
/// <param name="HalfPage">Answers with the first half of its reply.</param>
/// <param name="RetryAfter">The seconds named with a 429.</param>
/// <param name="FailedAfter">Does what was asked and answers 502, as something between the two programs would.</param>
/// <param name="DoneLate">Does what was asked once nobody waits for it any more, and never answers.</param>
/// <param name="LateSeconds">After how many seconds it does so.</param>
/// <param name="Forbids">Lets nobody in: answers 403 and does nothing, as a gateway does while what is behind it starts.</param>
/// <param name="WritesOnly">Whether what only reads is served well.</param>
public sealed record FaultShares(
    double TooMany = 0,
    double Error = 0,
    double LostBefore = 0,
    double LostAfter = 0,
    double Twice = 0,
    double HalfPage = 0,
    int RetryAfter = 1,
    double FailedAfter = 0,
    double DoneLate = 0,
    double LateSeconds = 9,
    double Forbids = 0,
    bool WritesOnly = false
)
{
    public bool Quiet => TooMany + Error + LostBefore + LostAfter + Twice + HalfPage + FailedAfter + DoneLate + Forbids == 0;
}
