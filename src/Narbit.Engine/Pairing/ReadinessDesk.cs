using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Pairing;
using Narbit.Data;

namespace Narbit.Engine.Pairing;

/// <summary>Runs the readiness check over a couple as it is paired and proposed now.</summary>
/// <param name="database">Where the mirror and the pairs are.</param>
/// <param name="pairs">What opens couples.</param>
/// <param name="limits">Which titles become short enough on their way.</param>
public sealed class ReadinessDesk(Database database, PairDesk pairs, ITitleLimits limits)
{
    /// <summary>Checks both sides.</summary>
    /// <param name="coupleId">The couple.</param>
    /// <param name="pattern">How SKUs are proposed; null: as usual.</param>
    /// <param name="cancel">Gives up.</param>
    public async Task<Outcome<CheckedCouple>> CheckAsync(long coupleId, string? pattern, CancellationToken cancel)
    {
        var opened = await pairs.OpenAsync(coupleId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var (couple, hub, other) = opened.Value;
        var (left, right) = (
            await PairSide.LoadAsync(database, hub, couple.Kind, cancel),
            await PairSide.LoadAsync(database, other, couple.Kind, cancel)
        );
        var (ofHub, ofOther) = ReadinessCheck.Both(
            left,
            right,
            await PartnersAsync(coupleId, cancel),
            string.IsNullOrWhiteSpace(pattern) ? Readiness.DefaultPattern : pattern,
            await limits.AreLimitedAsync(hub.System.Id, right, cancel)
        );
        return new CheckedCouple(left, right, ofHub, ofOther);
    }

    private async Task<IReadOnlyList<(string Hub, string Other)>> PartnersAsync(long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var linked = await db
            .Links.AsNoTracking()
            .Where(l => l.CoupleId == coupleId && !l.IsKit)
            .Select(l => new { l.HubKey, l.OtherKey })
            .ToListAsync(cancel);
        var proposed = await db
            .Proposals.AsNoTracking()
            .Where(p => p.CoupleId == coupleId && p.HubKey != null && p.OtherKey != null)
            .Select(p => new { HubKey = p.HubKey!, OtherKey = p.OtherKey! })
            .ToListAsync(cancel);
        return [.. linked.Concat(proposed).Select(p => (p.HubKey, p.OtherKey))];
    }
}
