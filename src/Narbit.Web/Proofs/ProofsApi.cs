using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core.Comparing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Proofs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Proofs;
using Narbit.Engine.Systems;
using Narbit.Web.Api;
using Narbit.Web.Lanes;

namespace Narbit.Web.Proofs;

/// <summary>How far all lanes are in step, by full compares, day by day.</summary>
internal static class ProofsApi
{
    private const int Days = 14;
    private const int MostLines = 200_000;

    public static void Map(RouteGroupBuilder api)
    {
        var proofs = api.MapGroup("/proofs").WithTags("Proofs");
        proofs.MapGet("/", AllAsync).WithName("proofs");
        proofs.MapPost("/", BeginAsync).WithName("beginProof");
        proofs.MapPut("/time", SetTimeAsync).WithName("setProofTime");
        proofs.MapGet("/{id:long}", OneAsync).WithName("proof");
        proofs.MapGet("/{id:long}/lines", LinesAsync).WithName("proofLines");
        proofs.MapGet("/{id:long}.{form:regex(^(csv|xlsx)$)}", LinesFileAsync).WithName("exportProofLines");
        api.MapGet("/proofs.{form:regex(^(csv|xlsx)$)}", FileAsync).WithName("exportProofs").WithTags("Proofs");
    }

    private static async Task<Ok<ProofsView>> AllAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var zone = await Zones.OfWorkspaceAsync(db, cancel);
        var today = DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(clock.GetUtcNow(), zone).Date);
        var days = Enumerable.Range(0, Days).Select(i => today.AddDays(i - Days + 1).ToString("O", CultureInfo.InvariantCulture)).ToList();
        var lanes = (await LaneViews.AllAsync(db, null, clock.GetUtcNow(), cancel)).Where(l => !l.Off && l.Work.Pairs).ToList();
        var newest = await db.Proofs.GroupBy(p => p.LaneId).Select(g => g.Max(p => p.Id)).ToListAsync(cancel);
        var latest = (await Views(db, p => newest.Contains(p.Id), cancel)).ToDictionary(p => p.LaneId, StringComparer.Ordinal);
        var byDay = await SharesAsync(db, days, cancel);
        return TypedResults.Ok(
            new ProofsView(
                await db.Workspaces.Select(w => w.ProvedAt).FirstOrDefaultAsync(cancel),
                await db.ProofRounds.AnyAsync(r => r.EndedAt == null, cancel),
                [
                    .. lanes.Select(l => new ProvedLane(
                        l.Id,
                        l.Name,
                        l.Source,
                        l.Target,
                        latest.GetValueOrDefault(l.Id),
                        [.. days.Select(d => new ProofDay(d, byDay.TryGetValue((l.Id, d), out var share) ? share : null))]
                    )),
                ]
            )
        );
    }

    // The last compare of a day is the day's.
    private static async Task<Dictionary<(string Lane, string Day), double>> SharesAsync(
        NarbitContext db,
        IReadOnlyList<string> days,
        CancellationToken cancel
    )
    {
        var all = await db
            .Proofs.AsNoTracking()
            .Where(p => days.Contains(p.Day) && p.Why == null && p.Records > 0)
            .Select(p => new
            {
                p.Id,
                p.LaneId,
                p.Day,
                p.Records,
                p.RecordsInStep,
            })
            .ToListAsync(cancel);
        return all.GroupBy(p => (p.LaneId, p.Day))
            .ToDictionary(g => g.Key, g => g.MaxBy(p => p.Id)!)
            .ToDictionary(g => g.Key, g => (double)g.Value.RecordsInStep / g.Value.Records);
    }

    private static async Task<List<LaneProofView>> Views(
        NarbitContext db,
        System.Linq.Expressions.Expression<Func<LaneProof, bool>> which,
        CancellationToken cancel
    )
    {
        var proofs = await (
            from p in db.Proofs.AsNoTracking().Where(which)
            join r in db.ProofRounds on p.RoundId equals r.Id
            orderby p.Id
            select new { Proof = p, r.By }
        ).ToListAsync(cancel);
        // What was proved of a lane stays to be read when the lane is gone.
        var lanes = await db.Lanes.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(l => l.Id, StringComparer.Ordinal, cancel);
        var systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().ToDictionaryAsync(s => s.Id, StringComparer.Ordinal, cancel);
        return
        [
            .. proofs.Select(p =>
            {
                var lane = lanes.GetValueOrDefault(p.Proof.LaneId);
                SystemTag? Tag(string? id) => systems.GetValueOrDefault(id ?? "") is { } system ? SystemTag.Of(system) : null;
                return View(p.Proof, p.By, Name(lane), Tag(lane?.SourceId), Tag(lane?.TargetId));
            }),
        ];
    }

    private static string Name(Data.Lanes.Lane? lane) => lane is null ? "a lane that is gone" : lane.Name ?? LaneWorks.Of(lane.Kind).Label;

    private static LaneProofView View(LaneProof proof, string? by, string lane, SystemTag? source, SystemTag? target) =>
        new()
        {
            Id = proof.Id,
            LaneId = proof.LaneId,
            Lane = lane,
            Source = source,
            Target = target,
            Day = proof.Day,
            At = proof.At,
            By = by,
            Why = proof.Why?.Words,
            RuleNumber = proof.RuleNumber,
            Records = proof.Records,
            RecordsInStep = proof.RecordsInStep,
            Fields = proof.Fields,
            FieldsInStep = proof.FieldsInStep,
            ChangedThere = proof.ChangedThere,
            ToSend = proof.ToSend,
            Missing = proof.Missing,
            Held = proof.Held,
            NotComputed = proof.NotComputed,
            Mistaken = proof.Mistaken,
        };

    private static async Task<Results<Ok<LaneProofView>, ProblemHttpResult>> OneAsync(long id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await Views(db, p => p.Id == id, cancel) is [var proof]
            ? TypedResults.Ok(proof)
            : Problems.NotFound("There is no such compare.");
    }

    private static async Task<Results<Accepted, ProblemHttpResult>> BeginAsync(Database database, ProofDesk desk, CancellationToken cancel)
    {
        var begun = await desk.BeginAsync(await People.AtWorkAsync(database, cancel), cancel);
        return begun.Fault is { } fault ? Problems.Of(fault) : TypedResults.Accepted("/api/proofs");
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SetTimeAsync(
        ProofTime time,
        ProofDesk desk,
        CancellationToken cancel
    ) => await desk.SetTimeAsync(time.At, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

    private static IQueryable<ProofLine> Lines(NarbitContext db, long id, string? finding, string? search)
    {
        var lines = db.ProofLines.AsNoTracking().Where(l => l.ProofId == id);
        if (!string.IsNullOrEmpty(finding))
            lines = Enum.TryParse<StepFinding>(finding, ignoreCase: true, out var which)
                ? lines.Where(l => l.Finding == which)
                : lines.Where(l => false);
        if (string.IsNullOrWhiteSpace(search))
            return lines;
        var like = Window.Like(search);
        return lines.Where(l =>
            EF.Functions.Like(l.Reference!, like, "\\")
            || EF.Functions.Like(l.Caption!, like, "\\")
            || EF.Functions.Like(l.SourceKey, like, "\\")
            || EF.Functions.Like(l.TargetKey, like, "\\")
        );
    }

    private static async Task<Results<Ok<Slice<ProofLineView>>, ProblemHttpResult>> LinesAsync(
        long id,
        string? finding,
        string? search,
        int? offset,
        int? limit,
        Database database,
        AdapterSource adapters,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Proofs.AsNoTracking().FirstOrDefaultAsync(p => p.Id == id, cancel) is not { } proof)
            return Problems.NotFound("There is no such compare.");
        var window = new Window(offset, limit);
        var all = Lines(db, id, finding, search);
        var some = await all.OrderBy(l => l.Id).Skip(window.From).Take(window.Size).ToListAsync(cancel);
        var fields = await FieldsAsync(database, adapters, proof.LaneId, cancel);
        return TypedResults.Ok(new Slice<ProofLineView>(await all.CountAsync(cancel), window.From, [.. some.Select(l => View(l, fields))]));
    }

    private static async Task<Func<string, FieldDescription?>> FieldsAsync(
        Database database,
        AdapterSource adapters,
        string laneId,
        CancellationToken cancel
    )
    {
        if ((await OpenLane.ForAsync(database, adapters, laneId, cancel)).ValueOrDefault is not { } lane)
            return _ => null;
        var fields = lane.Sides.Target.Fields.Concat(lane.Sides.Source.Fields).DistinctBy(f => f.Name).ToDictionary(f => f.Name);
        return name => fields.GetValueOrDefault(name);
    }

    private static ProofLineView View(ProofLine line, Func<string, FieldDescription?> fields)
    {
        var field = line.Field is null ? null : fields(line.Field);
        string? Shown(string? text) => field is null ? text : Seam.Shown(field, text) ?? text;
        return new ProofLineView
        {
            Finding = line.Finding,
            SourceKey = line.SourceKey,
            TargetKey = line.TargetKey,
            Reference = line.Reference,
            Caption = line.Caption,
            Field = field?.Label ?? line.Field,
            Unit = field?.Unit,
            There = Shown(line.There),
            Should = Shown(line.Should),
            Before = Shown(line.Before),
            Words = line.Words,
        };
    }

    private static async Task<FileContentHttpResult> LinesFileAsync(
        long id,
        string form,
        string? finding,
        string? search,
        Database database,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var all = await Lines(db, id, finding, search).OrderBy(l => l.Id).Take(MostLines).ToListAsync(cancel);
        return Sheets.File(
            form,
            $"proof-{id.ToString(CultureInfo.InvariantCulture)}",
            ["finding", "record here", "record there", "called", "caption", "field", "there", "should be", "before", "words"],
            all.Select(
                IReadOnlyList<string?> (l) =>
                    [l.Finding.ToString(), l.SourceKey, l.TargetKey, l.Reference, l.Caption, l.Field, l.There, l.Should, l.Before, l.Words]
            )
        );
    }

    private static async Task<FileContentHttpResult> FileAsync(string form, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var all = await Views(db, _ => true, cancel);
        return Sheets.File(
            form,
            "proofs",
            [
                "day",
                "compared at",
                "asked by",
                "lane",
                "from",
                "to",
                "rule version",
                "records",
                "records in step",
                "records in step %",
                "fields",
                "fields in step",
                "fields in step %",
                "changed there",
                "to be sent",
                "not there",
                "held",
                "not computed",
                "believed wrongly",
                "not compared because",
            ],
            all.Select(IReadOnlyList<string?> (p) => Line(p))
        );
    }

    private static string?[] Line(LaneProofView proof)
    {
        static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
        static string? Share(int part, int whole) =>
            whole == 0 ? null : (100m * part / whole).ToString("0.00", CultureInfo.InvariantCulture);
        return
        [
            proof.Day,
            proof.At.ToString("O", CultureInfo.InvariantCulture),
            proof.By ?? "the night",
            proof.Lane,
            proof.Source?.Name,
            proof.Target?.Name,
            Text(proof.RuleNumber),
            Text(proof.Records),
            Text(proof.RecordsInStep),
            Share(proof.RecordsInStep, proof.Records),
            Text(proof.Fields),
            Text(proof.FieldsInStep),
            Share(proof.FieldsInStep, proof.Fields),
            Text(proof.ChangedThere),
            Text(proof.ToSend),
            Text(proof.Missing),
            Text(proof.Held),
            Text(proof.NotComputed),
            Text(proof.Mistaken),
            proof.Why,
        ];
    }
}
