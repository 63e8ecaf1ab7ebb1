namespace Narbit.Web.Live;

/// <summary>Wakes a worker that waits. Rung several times before it wakes, it wakes once.</summary>
internal sealed class Bell : IDisposable
{
    private readonly SemaphoreSlim _rung = new(0, 1);

    /// <summary>Rings.</summary>
    public void Ring()
    {
        if (_rung.CurrentCount > 0)
            return;
        try
        {
            _rung.Release();
        }
        catch (SemaphoreFullException)
        {
            // It is about to wake anyway.
        }
    }

    /// <summary>Waits until it rings, and no longer than this.</summary>
    public Task WaitAsync(TimeSpan longest, CancellationToken cancel) => _rung.WaitAsync(longest, cancel);

    /// <inheritdoc/>
    public void Dispose() => _rung.Dispose();
}
