namespace Narbit.Engine.Telling;

/// <summary>When what was not taken is tried again.</summary>
public static class Retries
{
    /// <summary>How often it is tried.</summary>
    public const int Most = 10;

    /// <summary>The longest that is waited between two tries.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromHours(4);

    /// <summary>How long after so many tries the next one is: a minute, then each time twice as long, up to some hours.</summary>
    public static TimeSpan After(int tries)
    {
        var wait = TimeSpan.FromMinutes(Math.Pow(2, tries - 1));
        return wait < Longest ? wait : Longest;
    }
}
