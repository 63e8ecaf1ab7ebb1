namespace Narbit.Adapters;

/// <summary>
/// Counts what it takes to be answered: whoever watches sees the requests of all that it calls, and of nobody else. It goes with the
/// flow of the calls, since a system's adapter is shared by all who work with it.
/// </summary>
public sealed class Traffic
{
    // A run over many records that all fail says the same again and again.
    private const int MostTroubles = 300;

    private static readonly AsyncLocal<Traffic?> Watching = new();

    private readonly Lock _gate = new();
    private readonly List<TroubledRequest> _troubles = [];
    private readonly SortedDictionary<string, int> _bySystem = new(StringComparer.Ordinal);

    /// <summary>Requests that were sent, each attempt counted.</summary>
    public int Requests { get; private set; }

    /// <summary>How many of them went to which system, by its mark.</summary>
    public IReadOnlyDictionary<string, int> BySystem
    {
        get
        {
            lock (_gate)
                return new Dictionary<string, int>(_bySystem, StringComparer.Ordinal);
        }
    }

    /// <summary>Those of them that repeat an earlier one.</summary>
    public int Repeats { get; private set; }

    /// <summary>Those of them that had no answer.</summary>
    public int Lost { get; private set; }

    /// <summary>How long was waited for answers that never came.</summary>
    public TimeSpan LostWaited { get; private set; }

    /// <summary>How long was waited because a system takes only so many requests.</summary>
    public TimeSpan LimitWaited { get; private set; }

    /// <summary>How long was waited before repeating what had failed.</summary>
    public TimeSpan RepeatWaited { get; private set; }

    /// <summary>The requests that were not answered at once, up to a bound.</summary>
    public IReadOnlyList<TroubledRequest> Troubles
    {
        get
        {
            lock (_gate)
                return [.. _troubles];
        }
    }

    /// <summary>Who watches here; null: nobody.</summary>
    public static Traffic? Current => Watching.Value;

    /// <summary>Counts the requests of everything that is called from here on, until what is returned is disposed.</summary>
    public IDisposable Watch()
    {
        var before = Watching.Value;
        Watching.Value = this;
        return new Watcher(before);
    }

    internal void Sent(string mark, bool repeats, TimeSpan limitWaited)
    {
        lock (_gate)
        {
            Requests++;
            _bySystem[mark] = _bySystem.GetValueOrDefault(mark) + 1;
            Repeats += repeats ? 1 : 0;
            LimitWaited += limitWaited;
        }
    }

    internal void Unanswered(TimeSpan waited)
    {
        lock (_gate)
        {
            Lost++;
            LostWaited += waited;
        }
    }

    /// <summary>Nothing is sent for a while.</summary>
    /// <param name="delay">For how long.</param>
    /// <param name="forLimit">Whether the system asked for it; otherwise something is about to be repeated.</param>
    public void Waits(TimeSpan delay, bool forLimit)
    {
        lock (_gate)
        {
            if (forLimit)
                LimitWaited += delay;
            else
                RepeatWaited += delay;
        }
    }

    internal void Troubled(TroubledRequest request)
    {
        lock (_gate)
            if (_troubles.Count < MostTroubles)
                _troubles.Add(request);
    }

    private sealed class Watcher(Traffic? before) : IDisposable
    {
        public void Dispose() => Watching.Value = before;
    }
}
