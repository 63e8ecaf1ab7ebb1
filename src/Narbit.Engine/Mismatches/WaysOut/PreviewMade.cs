using System.Globalization;
using Narbit.Core;
using Narbit.Engine.Runs;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>What several ways out do: they make a preview, which a person sends. To take that back is to send nothing of it.</summary>
/// <param name="Run">The preview.</param>
public sealed record PreviewMade(long Run)
{
    /// <summary>As it was kept before parts were JSON.</summary>
    public static PreviewMade Earlier(string text) => new(long.Parse(text, CultureInfo.InvariantCulture));

    /// <summary>Gives it up, if nothing of it was sent.</summary>
    /// <returns>Why it stays; null: nothing of it will be sent.</returns>
    public async Task<Reason?> UndoAsync(RunDesk runs, string by, CancellationToken cancel)
    {
        var given = await runs.GiveUpAsync(Run, by, cancel);
        return given.Fault is { Code: RunDesk.WasSent }
            ? new Reason("mismatch.sent", $"run {Run} has sent it already; roll that run back on its page")
            : given.Fault;
    }
}
