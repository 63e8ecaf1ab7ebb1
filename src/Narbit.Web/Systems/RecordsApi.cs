using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mirror;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

/// <summary>A list within records of a kind, as it is described.</summary>
internal sealed record ChildFields(string Name, string Label, IReadOnlyList<FieldDescription> Fields);

internal sealed record KindFields(
    RecordKind Kind,
    string Label,
    IReadOnlyList<FieldDescription> Fields,
    IReadOnlyList<ChildFields> Children
);

internal sealed record RecordRow(
    string Key,
    string? Reference,
    string? Caption,
    IReadOnlyDictionary<string, string> Values,
    IReadOnlyList<FieldProblem> Problems,
    DateTimeOffset ChangedAt,
    bool Gone
);

/// <summary>A record as it was sent and as it was understood.</summary>
/// <param name="Record">The record.</param>
/// <param name="Raw">As its system sent it, JSON.</param>
/// <param name="RawParent">What stood around it, JSON; null: nothing did.</param>
/// <param name="Children">The lists within it.</param>
internal sealed record RecordDetail(
    RecordRow Record,
    string Raw,
    string? RawParent,
    IReadOnlyDictionary<string, IReadOnlyList<IReadOnlyDictionary<string, string>>> Children
);

/// <summary>What was read of systems, record by record.</summary>
internal static class RecordsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var systems = api.MapGroup("/systems").WithTags("Systems");
        systems.MapGet("/{id}/fields", FieldsAsync).WithName("systemFields");
        systems.MapGet("/{id}/records/{kind}", ListAsync).WithName("listRecords");
        systems.MapGet("/{id}/records/{kind}/{key}", GetAsync).WithName("getRecord");
    }

    private static async Task<Results<Ok<IReadOnlyList<KindFields>>, ProblemHttpResult>> FieldsAsync(
        string id,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        var connection = await adapters.ForAsync(id, cancel);
        if (connection.Fault is { } fault)
            return Problems.Of(fault);
        return TypedResults.Ok<IReadOnlyList<KindFields>>([
            .. connection.Value.Adapter.Kinds.Select(k => new KindFields(
                k.Kind,
                k.Label,
                k.Fields.Fields,
                [.. k.Fields.Children.Select(c => new ChildFields(c.Name, c.Label, c.Fields.Fields))]
            )),
        ]);
    }

    private static async Task<Results<Ok<Slice<RecordRow>>, ProblemHttpResult>> ListAsync(
        string id,
        string kind,
        string? search,
        bool? troubled,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        if (KindOf(kind) is not { } which)
            return NoKind(kind);
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var records = db.Records.AsNoTracking().Where(r => r.SystemId == id && r.Kind == which && r.GoneAt == null);
        if (troubled == true)
            records = records.Where(r => r.Problems != null);
        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search);
            records = records.Where(r =>
                EF.Functions.Like(r.Reference!, like, "\\")
                || EF.Functions.Like(r.Caption!, like, "\\")
                || EF.Functions.Like(r.Key, like, "\\")
            );
        }

        var total = await records.CountAsync(cancel);
        var rows = await records.OrderBy(r => r.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        return TypedResults.Ok(new Slice<RecordRow>(total, window.From, [.. rows.Select(Row)]));
    }

    private static async Task<Results<Ok<RecordDetail>, ProblemHttpResult>> GetAsync(
        string id,
        string kind,
        string key,
        Database database,
        CancellationToken cancel
    )
    {
        if (KindOf(kind) is not { } which)
            return NoKind(kind);
        await using var db = database.CreateDbContext();
        var record = await db.Records.AsNoTracking().FirstOrDefaultAsync(r => r.SystemId == id && r.Kind == which && r.Key == key, cancel);
        if (record is null)
            return Problems.NotFound($"The mirror has no record {key} of this kind.");
        var around = await db
            .Parents.Where(p => p.SystemId == id && p.Kind == which && p.Key == record.Parent)
            .Select(p => p.Raw)
            .FirstOrDefaultAsync(cancel);
        var children = RecordChildren.Read(record.Children);
        return TypedResults.Ok(
            new RecordDetail(Row(record), record.Raw, around, children.Lists.ToDictionary(list => list, list => children[list]))
        );
    }

    /// <summary>A kind by its word; null: there is none of that name.</summary>
    internal static RecordKind? KindOf(string word) => RecordKind.TryParse(word, out var kind) ? kind : null;

    internal static ProblemHttpResult NoKind(string word) => Problems.NotFound($"There is no record kind “{word}”.");

    private static RecordRow Row(MirrorRecord record) =>
        new(
            record.Key,
            record.Reference,
            record.Caption,
            StoredRecord.Values(record.Values),
            StoredRecord.Problems(record.Problems),
            record.ChangedAt,
            record.GoneAt is not null
        );
}
