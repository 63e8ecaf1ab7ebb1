using Narbit.Core;

namespace Narbit.Engine.Telling;

/// <summary>The way out for webhooks.</summary>
public interface IHookDoor
{
    /// <summary>Sends one.</summary>
    /// <returns>Why it was not taken; null: the other tool has taken it.</returns>
    Task<Reason?> SendAsync(Uri address, OutgoingHook hook, CancellationToken cancel);
}
