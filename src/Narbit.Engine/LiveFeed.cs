namespace Narbit.Engine;

/// <summary>Tells whoever listens what is going on. Listeners must be quick and must not throw.</summary>
public sealed class LiveFeed
{
    /// <summary>Raised on the thread that does the work.</summary>
    public event Action<LiveEvent>? Happened;

    /// <summary>Tells the listeners.</summary>
    public void Tell(LiveEvent what) => Happened?.Invoke(what);
}
