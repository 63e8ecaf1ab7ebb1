using System.Globalization;
using Narbit.Core;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What several ways out do: they make a preview, which a person sends. To take that back is to send nothing of it.</summary>
internal static class PreviewMade
{
    /// <summary>A preview as a part of an act.</summary>
    public static string Part(long run) => run.ToString(CultureInfo.InvariantCulture);

    /// <summary>Gives a preview up, if nothing of it was sent.</summary>
    /// <returns>Why it stays; null: nothing of it will be sent.</returns>
    public static async Task<Reason?> UndoAsync(RunDesk runs, string part, string by, CancellationToken cancel)
    {
        var run = long.Parse(part, CultureInfo.InvariantCulture);
        var given = await runs.GiveUpAsync(run, by, cancel);
        return given.Fault is { Code: RunDesk.WasSent }
            ? new Reason("mismatch.sent", $"run {run} has sent it already; roll that run back on its page")
            : given.Fault;
    }
}
