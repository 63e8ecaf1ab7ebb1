using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Comparing;
using Narbit.Core.Mismatches;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Mismatches;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Mismatches;

/// <summary>What is to be done about mismatches.</summary>
[JsonConverter(typeof(CamelCaseEnum<DeskAct>))]
internal enum DeskAct
{
    /// <summary>The way out that was computed is taken.</summary>
    Take,

    /// <summary>They are seen again later.</summary>
    PutOff,

    /// <summary>Somebody has them, or nobody.</summary>
    Give,

    /// <summary>Something is said about them.</summary>
    Remark,

    /// <summary>They are settled elsewhere, or are as they should be.</summary>
    Settle,
}

/// <summary>An act on mismatches: on those that are named, or on all that are alike to one.</summary>
/// <param name="Act">What is done.</param>
/// <param name="Ids">The mismatches.</param>
/// <param name="AlikeTo">A mismatch; all that are open and alike are meant, itself too.</param>
/// <param name="OfCauseOf">A mismatch; all that are open and of its cause are meant.</param>
/// <param name="Expected">How many the person was told; another number refuses.</param>
/// <param name="Fingerprint">That of the way out that the person was shown; another by now refuses.</param>
/// <param name="Until">For putting off: until when.</param>
/// <param name="Owner">For giving: to whom; null: to nobody.</param>
/// <param name="Words">What is said.</param>
internal sealed record ActToDo(
    DeskAct Act,
    IReadOnlyList<long>? Ids = null,
    long? AlikeTo = null,
    long? OfCauseOf = null,
    int? Expected = null,
    string? Fingerprint = null,
    DateTimeOffset? Until = null
)
{
    public string? Owner { get; init; }

    public string? Words { get; init; }
}

/// <summary>The mismatch desk: everything that needs a person, by cause and by record, and what can be done about it.</summary>
internal static class MismatchesApi
{
    // Records are counted one by one, which takes too long for very many.
    private const int MostCounted = 20_000;

    public static void Map(RouteGroupBuilder api)
    {
        var desk = api.MapGroup("/mismatches").WithTags("Mismatches");
        desk.MapGet("/causes", CausesAsync).WithName("mismatchCauses");
        desk.MapGet("/", ListAsync).WithName("mismatches");
        desk.MapGet("/{id:long}", OneAsync).WithName("mismatch");
        desk.MapGet("/learned", LearnedAsync).WithName("learned");
        desk.MapPost("/acts", ActAsync).WithName("actOnMismatches");
        desk.MapPost("/acts/{id:long}/undo", UndoAsync).WithName("undoMismatchAct");
        api.MapGet("/mismatches.{form:regex(^(csv|xlsx)$)}", FileAsync).WithName("exportMismatches").WithTags("Mismatches");
    }

    private static async Task<Ok<CausesView>> CausesAsync(
        [AsParameters] MismatchFilter filter,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var causes = await MismatchCauseViews.AllAsync(db, filter, clock, cancel);
        var owners = await db
            .Mismatches.Where(m => m.State == MismatchState.Open && m.Owner != null)
            .Select(m => m.Owner!)
            .Distinct()
            .OrderBy(o => o)
            .ToListAsync(cancel);
        var total = causes.Sum(c => c.Count);
        return TypedResults.Ok(new CausesView(total, causes, owners, await RecordsAsync(db, filter, total, cancel)));
    }

    // A record may be there for several causes, and is one all the same.
    private static async Task<int?> RecordsAsync(NarbitContext db, MismatchFilter filter, int total, CancellationToken cancel) =>
        filter.IsNarrow && total <= MostCounted
            ? await filter
                .Of(db)
                .Select(m => new
                {
                    m.SystemId,
                    m.Kind,
                    m.Key,
                })
                .Distinct()
                .CountAsync(cancel)
            : null;

    private static async Task<Ok<IReadOnlyList<Learned>>> LearnedAsync(MismatchDesk desk, CancellationToken cancel) =>
        TypedResults.Ok(await desk.LearnedAsync(cancel));

    private static async Task<Ok<Slice<MismatchRow>>> ListAsync(
        [AsParameters] MismatchFilter filter,
        int? offset,
        int? limit,
        Database database,
        MismatchDesk desk,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var window = new Window(offset, limit);
        var all = filter.Of(db);
        var some = await Ordered(all).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        var rows = await MismatchRows.OfAsync(db, desk, some, cancel);
        return TypedResults.Ok(new Slice<MismatchRow>(await all.CountAsync(cancel), window.From, rows));
    }

    // Those that are alike stand together, the oldest first.
    private static IQueryable<Mismatch> Ordered(IQueryable<Mismatch> all) =>
        all.OrderBy(m => m.Cause).ThenBy(m => m.Since).ThenBy(m => m.Id);

    private static async Task<Results<Ok<MismatchView>, ProblemHttpResult>> OneAsync(
        long id,
        Database database,
        AdapterSource adapters,
        MismatchDesk desk,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Mismatches.AsNoTracking().FirstOrDefaultAsync(m => m.Id == id, cancel) is not { } mismatch)
            return Problems.NotFound("There is no such mismatch.");
        var (here, mine) = await SideAsync(db, adapters, mismatch.SystemId, mismatch.Kind, mismatch.Key, cancel);
        var (there, theirs) = await SideAsync(db, adapters, mismatch.OtherSystemId, mismatch.Kind, mismatch.OtherKey, cancel);
        var both = here is not null && there is not null;
        return TypedResults.Ok(
            new MismatchView
            {
                Row = (await MismatchRows.OfAsync(db, desk, [mismatch], cancel))[0],
                Seam = both ? Seam.Between(here!, mine, there!, theirs) : [],
                Facts = both || here is null ? [] : [.. Facts(here, mine)],
                Alike = await Alike(db, mismatch).CountAsync(m => m.Id != id, cancel),
                OfCause = await OfCause(db, mismatch).CountAsync(m => m.Id != id, cancel),
                FirstSeenAt = mismatch.FirstSeenAt,
                SeenAt = mismatch.SeenAt,
                Acts = await (
                    from done in db.ActsOn
                    where done.MismatchId == id
                    join act in db.MismatchActs on done.ActId equals act.Id
                    orderby act.Id descending
                    select new ActView(act.Id, act.Kind, act.By, act.At, act.Words, act.Count, act.UndoneAt, act.UndoneBy)
                ).ToListAsync(cancel),
            }
        );
    }

    private static IQueryable<Mismatch> OfCause(NarbitContext db, Mismatch one) =>
        db.Mismatches.AsNoTracking().Where(m => m.State == MismatchState.Open && m.Cause == one.Cause);

    // The same cause, in the same place, about the same.
    private static IQueryable<Mismatch> Alike(NarbitContext db, Mismatch one) => MismatchFilter.Alike(OfCause(db, one), one);

    private static IEnumerable<Fact> Facts(FieldSet fields, IReadOnlyDictionary<string, string> values) =>
        from field in fields.Fields
        let text = values.GetValueOrDefault(field.Name)
        where !string.IsNullOrEmpty(text) && field.Type is not (FieldType.Html or FieldType.Image)
        select new Fact(field.Label, Seam.Shown(field, text) ?? text, field.Unit);

    private static async Task<(FieldSet? Fields, IReadOnlyDictionary<string, string> Values)> SideAsync(
        NarbitContext db,
        AdapterSource adapters,
        string? system,
        RecordKind kind,
        string? key,
        CancellationToken cancel
    )
    {
        var nothing = new Dictionary<string, string>();
        if (system is null || string.IsNullOrEmpty(key) || (await adapters.ForAsync(system, cancel)).ValueOrDefault is not { } connection)
            return (null, nothing);
        var fields = connection.Adapter.Kinds.FirstOrDefault(k => k.Kind == kind)?.Fields;
        var stored = await db
            .Records.Where(r => r.SystemId == system && r.Kind == kind && r.Key == key)
            .Select(r => r.Values)
            .FirstOrDefaultAsync(cancel);
        return stored is null ? (null, nothing) : (fields, StoredRecord.Values(stored));
    }

    private static async Task<Results<Ok<ActResult>, ProblemHttpResult>> ActAsync(
        ActToDo act,
        Database database,
        MismatchDesk desk,
        CancellationToken cancel
    )
    {
        var meant = await MeantAsync(database, act, cancel);
        if (meant.Fault is { } fault)
            return Problems.Of(fault);
        var (ids, by) = (meant.Value, await People.AtWorkAsync(database, cancel));
        var done = act.Act switch
        {
            DeskAct.Take => await desk.TakeAsync(ids, act.Fingerprint, by, cancel),
            DeskAct.PutOff => await desk.PutOffAsync(ids, act.Until ?? default, by, cancel),
            DeskAct.Give => await desk.GiveAsync(ids, act.Owner, by, cancel),
            DeskAct.Remark => await desk.RemarkAsync(ids, act.Words ?? "", by, cancel),
            _ => await desk.SettleAsync(ids, act.Words, by, cancel),
        };
        return done.Fault is { } refused ? Problems.Of(refused) : TypedResults.Ok(done.Value);
    }

    private static async Task<Outcome<IReadOnlyList<long>>> MeantAsync(Database database, ActToDo act, CancellationToken cancel)
    {
        if (act.Ids is { } ids)
            return Outcome.Of<IReadOnlyList<long>>(ids);
        await using var db = database.CreateDbContext();
        var to = act.AlikeTo ?? act.OfCauseOf;
        if (await db.Mismatches.AsNoTracking().FirstOrDefaultAsync(m => m.Id == to, cancel) is not { } one)
            return new Reason("mismatch.unknown", "There is no such mismatch.");
        var meant = act.AlikeTo is null ? OfCause(db, one) : Alike(db, one);
        var found = await meant.OrderBy(m => m.Id).Select(m => m.Id).Take(MismatchDesk.Most).ToListAsync(cancel);
        return act.Expected is { } expected && expected != found.Count
            ? new Reason("mismatch.moved", $"There are {found.Count:N0} of them by now, not {expected:N0}; look at them once more.")
            : Outcome.Of<IReadOnlyList<long>>(found);
    }

    private static async Task<Results<Ok<ActResult>, ProblemHttpResult>> UndoAsync(
        long id,
        Database database,
        MismatchDesk desk,
        CancellationToken cancel
    )
    {
        var undone = await desk.UndoAsync(id, await People.AtWorkAsync(database, cancel), cancel);
        return undone.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(undone.Value);
    }

    private static async Task<FileContentHttpResult> FileAsync(
        string form,
        [AsParameters] MismatchFilter filter,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var all = await Ordered(filter.Of(db)).Take(MismatchDesk.Most).ToListAsync(cancel);
        return Sheets.File(
            form,
            "mismatches",
            [
                "cause",
                "code",
                "harm",
                "system",
                "kind",
                "key",
                "called",
                "caption",
                "what",
                "about",
                "pieces",
                "money",
                "currency",
                "since",
            ],
            all.Select(IReadOnlyList<string?> (m) => Line(m))
        );
    }

    private static string?[] Line(Mismatch mismatch)
    {
        var cause = MismatchCauses.Of(mismatch.Cause, mismatch.Words);
        return
        [
            cause.Heading,
            mismatch.Cause,
            cause.Harm.ToString(),
            mismatch.SystemId,
            mismatch.Kind.ToString(),
            mismatch.Key,
            mismatch.Reference,
            mismatch.Caption,
            mismatch.Words,
            mismatch.Subject,
            mismatch.Pieces?.ToString(System.Globalization.CultureInfo.InvariantCulture),
            MismatchRows.Worth(mismatch)?.Sum.ToString(System.Globalization.CultureInfo.InvariantCulture),
            mismatch.Currency,
            mismatch.Since.ToString("O", System.Globalization.CultureInfo.InvariantCulture),
        ];
    }
}
