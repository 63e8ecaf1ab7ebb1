using Narbit.Core;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>Systems that somebody has paused: nothing is read from them and nothing written, until somebody says so.</summary>
internal static class Pause
{
    /// <summary>Why a system is left alone, or null.</summary>
    public static Reason? Of(ConnectedSystem system) =>
        system.PausedAt is { } since
            ? new Reason(
                "system.paused",
                $"{system.Name} is paused since {since:yyyy-MM-dd HH:mm} UTC by {system.PausedBy}: it is neither read nor written. "
                    + "Resume it under Systems."
            )
            : null;
}
