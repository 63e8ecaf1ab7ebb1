using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Data;

namespace Narbit.Engine.Jobs;

/// <summary>What turns of a job take from each of its systems, by what its lanes' runs took before.</summary>
internal sealed class RequestCosts
{
    private const double EstimatedSmall = 4;
    private const double MinutesOfDay = 24 * 60;

    private readonly List<(string Name, double Whole, double Small, double? LimitADay)> _systems = [];
    private readonly double _ordersADay;

    private RequestCosts(double ordersADay) => _ordersADay = ordersADay;

    /// <summary>Whether any run has said what it takes.</summary>
    public bool Known { get; private init; }

    /// <summary>Whether what a small turn takes is not known yet.</summary>
    public bool Estimated { get; private init; }

    /// <summary>Requests a day at an interval; 0 minutes: at once, a small turn for each order.</summary>
    public IReadOnlyList<RequestsOfDay> Of(int minutes) =>
        [
            .. _systems.Select(s => new RequestsOfDay(
                s.Name,
                minutes == 0 ? s.Small * _ordersADay : s.Whole * (MinutesOfDay / minutes),
                s.LimitADay
            )),
        ];

    /// <summary>Looks them up.</summary>
    public static async Task<RequestCosts> OfAsync(NarbitContext db, JobDocument document, double ordersADay, CancellationToken cancel)
    {
        var own = document.Lanes.Select(l => l.Lane).ToList();
        var lanes = await db.Lanes.AsNoTracking().Where(l => own.Contains(l.Id)).ToListAsync(cancel);
        var touched = lanes.SelectMany(l => new[] { l.SourceId, l.TargetId }).Distinct(StringComparer.Ordinal).ToList();
        var whole = await ExpectedRequests.UsualAsync(db, small: false, cancel);
        var small = await ExpectedRequests.UsualAsync(db, small: true, cancel);
        var costs = new RequestCosts(ordersADay) { Known = own.Exists(whole.Contains), Estimated = !own.Exists(small.Contains) };
        foreach (var system in await db.Systems.AsNoTracking().Where(s => touched.Contains(s.Id)).OrderBy(s => s.Name).ToListAsync(cancel))
        {
            var limit = SystemDocument.Read(system.Document).ValueOrDefault?.RequestsPerSecond is > 0 and var a
                ? a * 86_400
                : (double?)null;
            var few = costs.Estimated ? EstimatedSmall : ExpectedRequests.PerTurn(own, system.Mark, small) ?? 0;
            costs._systems.Add((system.Name, ExpectedRequests.PerTurn(own, system.Mark, whole) ?? 0, few, limit));
        }

        return costs;
    }
}
