using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Engine.Lanes;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

/// <summary>A lane that a field is used in.</summary>
/// <param name="LaneId">The lane.</param>
/// <param name="Name">What it moves, and where to.</param>
/// <param name="Writes">Whether the lane writes the field; otherwise it reads it.</param>
internal sealed record UsedIn(string LaneId, string Name, bool Writes);

/// <summary>A field with what is in it and where it is used.</summary>
/// <param name="Kind">The kind of record that has it.</param>
/// <param name="Field">Its name.</param>
/// <param name="Samples">A few different values.</param>
/// <param name="Lanes">The lanes that read or write it.</param>
internal sealed record FieldAtWork(RecordKind Kind, string Field, IReadOnlyList<string> Samples, IReadOnlyList<UsedIn> Lanes);

/// <summary>The fields of a system as they are at work: what they hold, and which lanes use them.</summary>
internal static class FieldsApi
{
    private const int SampleRecords = 80;
    private const int Samples = 3;

    public static void Map(RouteGroupBuilder api) =>
        api.MapGet("/systems/{id}/fields/at-work", ListAsync).WithName("fieldsAtWork").WithTags("Systems");

    private static async Task<Results<Ok<IReadOnlyList<FieldAtWork>>, ProblemHttpResult>> ListAsync(
        string id,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } fault)
            return Problems.Of(fault);
        await using var db = database.CreateDbContext();
        var uses = await UsesAsync(db, id, database, adapters, cancel);
        var fields = new List<FieldAtWork>();
        foreach (var kind in connection.Value.Adapter.Kinds)
        {
            var samples = await SamplesAsync(db, id, kind.Kind, cancel);
            fields.AddRange(
                kind.Fields.Fields.Select(f => new FieldAtWork(
                    kind.Kind,
                    f.Name,
                    [.. samples[f.Name].Distinct(StringComparer.Ordinal).Take(Samples)],
                    [.. uses[(kind.Kind, f.Name)].Distinct()]
                ))
            );
        }

        return TypedResults.Ok<IReadOnlyList<FieldAtWork>>(fields);
    }

    private static async Task<ILookup<string, string>> SamplesAsync(NarbitContext db, string id, RecordKind kind, CancellationToken cancel)
    {
        var records = await db
            .Records.AsNoTracking()
            .Where(r => r.SystemId == id && r.Kind == kind && r.GoneAt == null)
            .OrderBy(r => r.Id)
            .Take(SampleRecords)
            .Select(r => r.Values)
            .ToListAsync(cancel);
        return records.SelectMany(r => StoredRecord.Values(r)).ToLookup(v => v.Key, v => v.Value, StringComparer.Ordinal);
    }

    private static async Task<ILookup<(RecordKind, string), UsedIn>> UsesAsync(
        NarbitContext db,
        string id,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var lanes = await db.Lanes.AsNoTracking().Where(l => l.SourceId == id || l.TargetId == id).OrderBy(l => l.Id).ToListAsync(cancel);
        var uses = new List<(FieldUse Use, UsedIn In)>();
        foreach (var lane in lanes)
        {
            // A lane whose other system cannot be opened uses nothing for now.
            var opened = await OpenLane.ForAsync(database, adapters, lane.Id, cancel);
            if (opened.ValueOrDefault is not { } open)
                continue;
            var name = open.Work.NameOf(open.Source.System.Name, open.Target.System.Name);
            uses.AddRange(
                open.Work.Computing.Uses(open.Document, open.Sides)
                    .Where(u => (u.OfSource ? lane.SourceId : lane.TargetId) == id)
                    .Select(u => (u, new UsedIn(lane.Id, name, !u.OfSource)))
            );
        }

        return uses.ToLookup(u => (u.Use.Kind, u.Use.Field), u => u.In);
    }
}
