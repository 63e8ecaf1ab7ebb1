using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Mismatches;

/// <summary>Causes with what is open of them.</summary>
internal static class MismatchCauseViews
{
    private const int Days = 14;

    /// <summary>The causes of all mismatches under a filter, what harms most first, then what is oldest.</summary>
    public static async Task<IReadOnlyList<CauseView>> AllAsync(
        NarbitContext db,
        MismatchFilter filter,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        // From one index alone: there may be half a million.
        var sums = await filter
            .Of(db)
            .GroupBy(m => new
            {
                m.Cause,
                m.SystemId,
                m.Currency,
            })
            .Select(g => new Sum(g.Key.Cause, g.Key.Currency, g.Key.SystemId, g.Count())
            {
                Worth = g.Sum(m => m.Worth),
                Pieces = g.Sum(m => m.Pieces),
                Since = g.Min(m => m.Since),
            })
            .ToListAsync(cancel);
        var systems = await db.Systems.AsNoTracking().ToDictionaryAsync(s => s.Id, SystemTag.Of, StringComparer.Ordinal, cancel);
        var trends = await TrendsAsync(db, clock, cancel);
        var causes = new List<CauseView>();
        foreach (var cause in sums.GroupBy(s => s.Cause, StringComparer.Ordinal))
        {
            var example = await db.Mismatches.Where(m => m.Cause == cause.Key).Select(m => m.Words).FirstOrDefaultAsync(cancel);
            causes.Add(View(MismatchCauses.Of(cause.Key, example), [.. cause], systems, trends));
        }

        return [.. causes.OrderBy(c => c.Harm).ThenBy(c => c.Since).ThenByDescending(c => c.Count)];
    }

    /// <summary>What does harm now, of all causes that are open.</summary>
    public static async Task<IReadOnlyList<HarmView>> HarmsAsync(
        NarbitContext db,
        IReadOnlyList<CauseView> causes,
        CancellationToken cancel
    )
    {
        var harms = new List<HarmView>();
        foreach (var harm in causes.Where(c => c.Harm <= Harm.Stopped).GroupBy(c => c.Harm))
            harms.Add(harm.Key == Harm.OrderStuck ? await OrdersAsync(db, [.. harm], cancel) : Whole([.. harm]));
        return harms;
    }

    private static HarmView Whole(IReadOnlyList<CauseView> causes) =>
        new(
            causes[0].Harm,
            causes.Sum(c => c.Count),
            causes.Sum(c => c.Pieces ?? 0) is > 0 and var pieces ? pieces : null,
            Amount.SumsOf(causes.SelectMany(c => c.Worth)),
            causes.Min(c => c.Since),
            [.. causes.SelectMany(c => c.Systems).DistinctBy(s => s.Id)]
        );

    // An order that stands still for two causes is one order, and its money is in it once.
    private static async Task<HarmView> OrdersAsync(NarbitContext db, IReadOnlyList<CauseView> causes, CancellationToken cancel)
    {
        var codes = causes.Select(c => c.Cause).ToList();
        var orders = await db
            .Mismatches.Where(m => m.State == MismatchState.Open && codes.Contains(m.Cause))
            .GroupBy(m => new
            {
                m.SystemId,
                m.Key,
                m.Currency,
            })
            .Select(g => new { g.Key.Currency, Worth = g.Max(m => m.Worth) })
            .ToListAsync(cancel);
        var worth = orders
            .Where(o => o is { Currency: not null, Worth: not null })
            .GroupBy(o => o.Currency!, StringComparer.Ordinal)
            .Select(g => new Amount(g.Key, g.Sum(o => o.Worth!.Value) / MismatchStore.Fine));
        return Whole(causes) with { Records = orders.Count, Worth = [.. worth] };
    }

    private sealed record Sum(string Cause, string? Currency, string SystemId, int Count)
    {
        public long? Worth { get; init; }

        public double? Pieces { get; init; }

        public DateTimeOffset Since { get; init; }
    }

    private static CauseView View(
        MismatchCause cause,
        IReadOnlyList<Sum> sums,
        Dictionary<string, SystemTag> systems,
        (IReadOnlyList<string> Days, ILookup<string, MismatchDay> Counts) trends
    )
    {
        var counts = trends.Counts[cause.Code].ToDictionary(d => d.Day, d => d.Open, StringComparer.Ordinal);
        return new CauseView
        {
            Cause = cause.Code,
            Heading = cause.Heading,
            Harm = cause.Harm,
            Count = sums.Sum(s => s.Count),
            Worth =
            [
                .. sums.Where(s => s is { Worth: > 0, Currency: not null })
                    .GroupBy(s => s.Currency!, StringComparer.Ordinal)
                    .Select(g => new Amount(g.Key, g.Sum(s => s.Worth!.Value) / MismatchStore.Fine)),
            ],
            Pieces = sums.Sum(s => s.Pieces ?? 0) is > 0 and var pieces ? pieces : null,
            Since = sums.Min(s => s.Since),
            Systems =
            [
                .. sums.Select(s => s.SystemId)
                    .Distinct(StringComparer.Ordinal)
                    .Where(systems.ContainsKey)
                    .Select(s => systems[s])
                    .OrderBy(s => s.Name, StringComparer.Ordinal),
            ],
            Trend = [.. trends.Days.Select(d => counts.GetValueOrDefault(d))],
        };
    }

    private static async Task<(IReadOnlyList<string> Days, ILookup<string, MismatchDay> Counts)> TrendsAsync(
        NarbitContext db,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        var today = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(clock.GetUtcNow(), zone).Date);
        List<string> days =
        [
            .. Enumerable.Range(0, Days).Select(i => today.AddDays(i - Days + 1).ToString("O", CultureInfo.InvariantCulture)),
        ];
        var counts = await db.MismatchDays.AsNoTracking().Where(d => days.Contains(d.Day)).ToListAsync(cancel);
        return (days, counts.ToLookup(d => d.Cause, StringComparer.Ordinal));
    }
}
