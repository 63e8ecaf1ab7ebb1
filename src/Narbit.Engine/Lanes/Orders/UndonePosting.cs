using Microsoft.EntityFrameworkCore;
using Narbit.Core.Orders;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Orders;
using Narbit.Data.Runs;

namespace Narbit.Engine.Lanes.Orders;

/// <summary>
/// What follows when a posting is undone: the order rests until a person decides, so that the next run does not post again what somebody
/// has just taken out; and what of it could not be undone stands on the order.
/// </summary>
internal static class UndonePosting
{
    /// <summary>The code of the cause for which such an order is held.</summary>
    public const string Cause = "takenOut";

    /// <summary>Why a document cannot be taken out any more, in words; null: it can, as far as is known.</summary>
    /// <param name="lane">The lane.</param>
    /// <param name="values">The document's values.</param>
    /// <param name="children">Its lists.</param>
    public static string? InTheWay(OpenLane lane, IReadOnlyDictionary<string, string> values, RecordChildren children)
    {
        var (fields, hub) = (lane.Sides.Target, lane.Target.System.Name);
        if (fields.Children.FirstOrDefault(c => c.Role == ListRole.Shipments) is { } sent && children[sent.Name].Count > 0)
            return $"something of it was shipped, so {hub} keeps the document; give it back there, or credit it";
        var state = fields.Text(values, FieldRole.State);
        return lane.Document is OrderPolicy policy && policy.After.IsTooLate(state)
            ? $"the document is {state} at {hub}, and too far on to be taken out; see to it there"
            : null;
    }

    /// <summary>Lets an order rest: its document is gone by somebody's will.</summary>
    public static async Task RestAsync(
        NarbitContext db,
        OpenLane lane,
        Run run,
        PlannedWrite write,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        db.OrderDecisions.Add(
            new OrderDecision
            {
                LaneId = lane.Lane.Id,
                OrderKey = write.SourceKey,
                Kind = OrderChoiceKind.Rest,
                By = run.StartedBy,
                At = now,
            }
        );
        await OrderLedger.TakenOutAsync(db, lane.Source.System.Id, write.SourceKey, now, cancel);
    }

    /// <summary>Says on an order that its store could not be told of it.</summary>
    public static Task HalfAsync(NarbitContext db, OpenLane lane, PlannedWrite write, CancellationToken cancel)
    {
        var (order, words) = (write.SourceKey, write.Fate?.Words);
        return db
            .OrderDecisions.Where(d => d.LaneId == lane.Lane.Id && d.OrderKey == order)
            .Where(d => d.Kind == OrderChoiceKind.Rest && d.UndoneAt == null)
            .ExecuteUpdateAsync(s => s.SetProperty(d => d.Value, words), cancel);
    }
}
