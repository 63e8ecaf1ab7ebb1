using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Runs;

namespace Narbit.Engine.Runs;

/// <summary>
/// What a change set was computed by: the version of the rule or map with its guards, and the lane's scope. Whoever sends it has seen
/// what these make of the records; once one of them is another, it has to be computed anew.
/// </summary>
/// <param name="Version">The version's number.</param>
/// <param name="Scope">Tells one scope from another.</param>
internal sealed record ChangeBasis(int Version, string Scope)
{
    /// <summary>What a change set of a lane would be computed by now.</summary>
    public static async Task<ChangeBasis> OfAsync(NarbitContext db, Lane lane, CancellationToken cancel)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        hash.AppendData(Encoding.UTF8.GetBytes($"{lane.SourceId}\n{lane.TargetId}\n{lane.SkuStartsWith}\n{lane.PublishedOnly}"));
        var excluded = db.KeptOff.Where(k => k.LaneId == lane.Id).OrderBy(k => k.SourceKey).Select(k => k.SourceKey);
        await foreach (var key in excluded.AsAsyncEnumerable().WithCancellation(cancel))
            hash.AppendData(Encoding.UTF8.GetBytes($"\n{key}"));
        return new ChangeBasis(lane.RuleNumber, Convert.ToHexStringLower(hash.GetHashAndReset().AsSpan(0, 12)));
    }

    /// <summary>As it is kept with a run.</summary>
    public string Kept => $"{Version.ToString(CultureInfo.InvariantCulture)} {Scope}";

    /// <summary>Why a run's change set may not be sent as it is; null: what it was computed by holds, or is not known.</summary>
    public static async Task<Reason?> StaleAsync(NarbitContext db, Run run, Lane lane, CancellationToken cancel)
    {
        if (run.Basis?.Split(' ') is not [var version, var scope] || run.RollsBack is not null)
            return null;
        var now = await OfAsync(db, lane, cancel);
        if (version != now.Version.ToString(CultureInfo.InvariantCulture))
        {
            var by = await db
                .RuleVersions.Where(v => v.LaneId == lane.Id && v.Number == now.Version)
                .Select(v => v.Author)
                .FirstOrDefaultAsync(cancel);
            return new Reason(
                "run.stale",
                $"This was computed by version {version}; {by ?? "somebody"} has saved version {now.Version} since. Preview again, so that "
                    + "what is sent is what was seen."
            );
        }

        return scope == now.Scope
            ? null
            : new Reason(
                "run.stale",
                "Which records the lane takes was changed since this was computed. Preview again, so that what is sent is what was seen."
            );
    }
}
