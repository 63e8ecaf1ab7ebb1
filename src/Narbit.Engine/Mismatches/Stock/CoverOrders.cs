using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes.Stock;
using Narbit.Engine.Mismatches.WaysOut;
using Narbit.Engine.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.Stock;

/// <summary>
/// Offers no more of an item than covers what is sold already: as previews of the stock lanes for these items alone, which a person sends.
/// </summary>
/// <param name="database">Where orders are.</param>
/// <param name="adapters">How the hub is described.</param>
/// <param name="runs">What begins runs.</param>
public sealed class CoverOrders(Database database, AdapterSource adapters, RunDesk runs) : WayOut<PreviewMade>
{
    private const double OfReckoning = 0.85;

    private static readonly string Stock = StockWork.Code;

    /// <inheritdoc/>
    public override string Act => "cover";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause is "stock.oversold" or "stock.promised";

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
    {
        var found = new List<Suggested>();
        foreach (var hub in some.GroupBy(m => m.SystemId, StringComparer.Ordinal))
        {
            var lanes = await LanesAsync(db, hub.Key, cancel);
            if ((await adapters.ForAsync(hub.Key, cancel)).ValueOrDefault is not { } connection || !HubStock.IsKnown(connection))
                continue;
            var sold = await OpenSales.OfAsync(hub.Key, database, cancel);
            var left = await HubStock.LeftAsync(db, connection, [.. hub.Select(m => m.Key)], cancel);
            var offered = await OfferedAsync(db, hub.Key, lanes, [.. hub.Select(m => m.Key)], cancel);
            foreach (var mismatch in hub.Where(m => offered.ContainsKey(m.Key)))
                found.Add(new Suggested(mismatch, Of(offered[mismatch.Key], left.GetValueOrDefault(mismatch.Key), sold, mismatch.Key)));
        }

        return found;
    }

    private static Suggestion Of(List<Lane> lanes, decimal left, IReadOnlyDictionary<string, decimal> sold, string item)
    {
        var open = sold.GetValueOrDefault(item);
        var free = Math.Max(0, left - open);
        return new Suggestion(
            "cover",
            $"Bring its stock up to date in {(lanes.Count == 1 ? "1 store" : $"{lanes.Count} stores")}",
            $"{left:#,0.##} are there, {open:#,0.##} of them are sold and not at the hub yet: {free:#,0.##} can be offered",
            OfReckoning,
            JsonText.WriteNames([.. lanes.Select(l => l.Id)])
        )
        {
            Effect = "as previews of the stock lanes for these items alone; nothing is sent before you do",
        };
    }

    private static async Task<List<Lane>> LanesAsync(NarbitContext db, string hub, CancellationToken cancel) =>
        await db.Lanes.AsNoTracking().Where(l => l.Kind == Stock && l.SourceId == hub && !l.Off).ToListAsync(cancel);

    // The lanes to the stores in which an item has a listing.
    private static async Task<Dictionary<string, List<Lane>>> OfferedAsync(
        NarbitContext db,
        string hub,
        List<Lane> lanes,
        IReadOnlyCollection<string> items,
        CancellationToken cancel
    )
    {
        var listed = await (
            from link in db.Links
            join couple in db.Couples on link.CoupleId equals couple.Id
            where couple.HubId == hub && couple.Kind == RecordKind.Item && items.Contains(link.HubKey)
            select new { link.HubKey, couple.OtherId }
        )
            .Distinct()
            .ToListAsync(cancel);
        return listed
            .SelectMany(l => lanes.Where(lane => lane.TargetId == l.OtherId).Select(lane => (l.HubKey, Lane: lane)))
            .GroupBy(l => l.HubKey, StringComparer.Ordinal)
            .ToDictionary(g => g.Key, g => g.Select(l => l.Lane).ToList(), StringComparer.Ordinal);
    }

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<PreviewMade> log,
        string by,
        CancellationToken cancel
    )
    {
        var (hindered, run) = (new Dictionary<long, string>(), (long?)null);
        var byLane = some.SelectMany(s => JsonText.ReadNames(s.Suggestion.Value)!.Select(lane => (Lane: lane, One: s)));
        foreach (var lane in byLane.GroupBy(s => s.Lane, StringComparer.Ordinal))
        {
            var keys = lane.Select(s => s.One.Mismatch.Key).Distinct(StringComparer.Ordinal);
            var request = new RunRequest(lane.Key, Preview: true, RunTrigger.Person, by) { Only = JsonSerializer.Serialize(keys) };
            var started = await runs.StartAsync(request, cancel);
            if (started.Fault is { } fault)
                foreach (var (_, one) in lane)
                    hindered[one.Mismatch.Id] = fault.Words;
            else
            {
                run ??= started.Value;
                await log.DoneAsync(new PreviewMade(started.Value));
            }
        }

        return new Taken(
            "What can be offered is in previews of the stock lanes, to be sent",
            [.. some.Select(s => s.Mismatch.Id).Where(id => !hindered.ContainsKey(id))],
            [.. hindered.Select(h => new NotTaken(h.Key, h.Value))],
            run
        );
    }

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(PreviewMade part, string by, CancellationToken cancel) => part.UndoAsync(runs, by, cancel);

    /// <inheritdoc/>
    protected override PreviewMade Earlier(string text) => PreviewMade.Earlier(text);
}
