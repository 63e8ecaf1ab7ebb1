using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Mapping;
using Narbit.Core.Records;
using Narbit.Core.Stock;
using Narbit.Data;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>Two records on a seam, with what the lane makes of them.</summary>
internal sealed record SeamView(IReadOnlyList<SeamRow> Rows, IReadOnlyList<TraceStep> Trace, Reason? Why, Reason? Hold);

/// <summary>One pair of a lane, field against field.</summary>
internal static class LaneSeam
{
    public static async Task<Results<Ok<SeamView>, ProblemHttpResult>> GetAsync(
        string id,
        string targetKey,
        Database database,
        AdapterSource adapters,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, id, cancel);
        if (opened.Fault is { } fault)
            return Problems.Of(fault);
        var lane = opened.Value;
        await using var db = database.CreateDbContext();
        if (await (await lane.BookAsync(db, cancel)).SourceOfAsync(db, targetKey, cancel) is not { } sourceKey)
            return Problems.NotFound("This listing is not paired, or it is a kit.");
        var computation = await lane.ComputationAsync(database, clock.GetUtcNow(), cancel);
        if (computation.Fault is { } broken)
            return Problems.Of(broken);

        var pair = await PairAsync(db, lane, sourceKey, targetKey, cancel);
        var computed = computation.Value.Compute(pair);
        IReadOnlyList<SeamRow> rows =
        [
            .. Seam.Between(lane.Sides.Source, pair.Source.Values, lane.Sides.Target, pair.Target.Values),
            .. computed.Fields.Select(ByTheRule),
        ];
        return TypedResults.Ok(new SeamView(rows, computed.Fields.Count > 0 ? computed.Fields[0].Trace : [], computed.Why, computed.Hold));
    }

    private static SeamRow ByTheRule(ComputedField field) =>
        new(
            $"{field.Field.Label} by the rule",
            Seam.Shown(field.Field, field.New),
            field.Field.Unit,
            field.Changes ? SeamSign.WillChange : SeamSign.Same,
            Seam.Shown(field.Field, field.Old),
            field.Field.Unit
        );

    private static async Task<LanePair> PairAsync(
        NarbitContext db,
        OpenLane lane,
        string sourceKey,
        string targetKey,
        CancellationToken cancel
    )
    {
        var here = await SideAsync(lane.Source.System.Id, sourceKey);
        var there = await SideAsync(lane.Target.System.Id, targetKey);
        var agreed = await lane.AgreedThere(db)
            .AsNoTracking()
            .Where(a => a.Key == targetKey && a.WithKey == sourceKey)
            .ToDictionaryAsync(a => a.Field, StringComparer.Ordinal, cancel);
        return new PlacedItem(here, there, null, null)
        {
            Agreed = agreed,
            Levels = await LevelsAsync(db, lane, sourceKey, cancel),
            Place = new ItemPlace(new MapRecord(here.Values, There: there.Values), Presence.Paired),
        };

        async Task<SideRecord> SideAsync(string systemId, string key) =>
            SideRecord.Of(
                await db
                    .Records.AsNoTracking()
                    .FirstOrDefaultAsync(r => r.SystemId == systemId && r.Kind == lane.Work.Record && r.Key == key, cancel)
            );
    }

    private static async Task<IReadOnlyList<StockLevel>> LevelsAsync(
        NarbitContext db,
        OpenLane lane,
        string sourceKey,
        CancellationToken cancel
    )
    {
        if (lane.Sides.Levels is not { } fields)
            return [];
        var stored = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == lane.Source.System.Id && r.Kind == RecordKind.StockLevel && r.Parent == sourceKey && r.GoneAt == null)
            .Select(r => r.Values)
            .ToListAsync(cancel);
        return [.. stored.Select(v => fields.StockLevel(StoredRecord.Values(v)))];
    }
}
