using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine;
using Narbit.Engine.Lanes;
using Narbit.Web.Api;

namespace Narbit.Web.Lanes;

/// <summary>A lane's document while it is edited.</summary>
/// <param name="BaseNumber">The version that it was begun on.</param>
/// <param name="Document">The document.</param>
/// <param name="Guards">The guards' limits.</param>
/// <param name="Note">What for.</param>
/// <param name="At">When it was last changed; whoever changes it next names this, so that two windows do not write over each other.</param>
/// <param name="ThrownAt">When it was thrown away; null: it was not.</param>
internal sealed record DraftView(
    int BaseNumber,
    LaneDocument Document,
    GuardLimits Guards,
    string? Note,
    DateTimeOffset At,
    DateTimeOffset? ThrownAt
);

/// <param name="Draft">What the person at work has not saved yet, or has thrown away last; null: nothing.</param>
internal sealed record MyDraft(DraftView? Draft);

/// <summary>What a window wants to be kept. It may go on from its own draft, or from one of another window that it has seen.</summary>
/// <param name="BaseNumber">The version that it was begun on.</param>
/// <param name="Document">The document.</param>
/// <param name="Guards">The guards' limits.</param>
/// <param name="Note">What for.</param>
/// <param name="Window">What the window calls itself.</param>
/// <param name="Seen">When the draft that this one goes on from was kept; null: a new one is begun.</param>
internal sealed record DraftToKeep(
    int BaseNumber,
    LaneDocument Document,
    GuardLimits Guards,
    string? Note,
    string Window,
    DateTimeOffset? Seen
);

/// <summary>What a person has changed of a lane and not saved: kept for them, whatever becomes of the page.</summary>
internal static class DraftsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var draft = api.MapGroup("/lanes/{id}/draft").WithTags("Rules");
        draft.MapGet("/", GetAsync).WithName("getDraft");
        draft.MapPut("/", KeepAsync).WithName("keepDraft");
        draft.MapDelete("/", ThrowAwayAsync).WithName("throwDraftAway");
        draft.MapPost("/back", BringBackAsync).WithName("bringDraftBack");
    }

    private static async Task<Ok<MyDraft>> GetAsync(string id, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(View(await FindAsync(db, id, await People.AtWorkAsync(database, cancel), cancel)));
    }

    private static async Task<Results<Ok<MyDraft>, ProblemHttpResult>> KeepAsync(
        string id,
        DraftToKeep request,
        Database database,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var lane = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == id, cancel);
        if (lane is null)
            return Problems.NotFound($"There is no lane “{id}”.");
        if (request.Document.GetType() != LaneWorks.Of(lane.Kind).Computing.DocumentType)
            return Problems.Of(new Reason("rule.foreign", $"The document is not one of lane “{id}”."));
        var person = await People.AtWorkAsync(database, cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var draft = await FindAsync(db, id, person, cancel);
        if (draft is { ThrownAt: null } && draft.Window != request.Window && draft.At != request.Seen)
            return Problems.Of(
                new Reason("draft.changed", $"Another window of {person} has changed this draft since. Take that one, or keep this one.")
            );
        var isNew = draft is null;
        draft ??= new LaneDraft
        {
            LaneId = id,
            Person = person,
            Document = "",
            Window = "",
            At = default,
        };
        draft.BaseNumber = request.BaseNumber;
        draft.Document = LaneJson.Write(request.Document);
        draft.Guards = RuleJson.Write(request.Guards);
        draft.Note = request.Note;
        draft.Window = request.Window;
        draft.At = clock.GetUtcNow();
        draft.ThrownAt = null;
        if (isNew)
            db.Drafts.Add(draft);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        if (isNew)
            live.Tell(new LiveEvent("lane", id));
        return TypedResults.Ok(View(draft));
    }

    // What is thrown away can be brought back until another draft is begun; what only became the same again is forgotten.
    private static async Task<Ok<MyDraft>> ThrowAwayAsync(
        string id,
        bool? forget,
        Database database,
        TimeProvider clock,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (forget == true)
            await ForgetAsync(id, database, cancel);
        return TypedResults.Ok(await ThrownAsync(id, clock.GetUtcNow(), database, live, cancel));
    }

    private static async Task ForgetAsync(string id, Database database, CancellationToken cancel)
    {
        var person = await People.AtWorkAsync(database, cancel);
        await using var db = database.CreateDbContext();
        await db.Drafts.Where(d => d.LaneId == id && d.Person == person).ExecuteDeleteAsync(cancel);
    }

    private static async Task<Ok<MyDraft>> BringBackAsync(string id, Database database, LiveFeed live, CancellationToken cancel) =>
        TypedResults.Ok(await ThrownAsync(id, null, database, live, cancel));

    private static async Task<MyDraft> ThrownAsync(
        string id,
        DateTimeOffset? at,
        Database database,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var draft = await FindAsync(db, id, await People.AtWorkAsync(database, cancel), cancel);
        if (draft is null)
            return new MyDraft(null);
        draft.ThrownAt = at;
        await db.SaveChangesAsync(cancel);
        live.Tell(new LiveEvent("lane", id));
        return View(draft);
    }

    private static Task<LaneDraft?> FindAsync(NarbitContext db, string lane, string person, CancellationToken cancel) =>
        db.Drafts.FirstOrDefaultAsync(d => d.LaneId == lane && d.Person == person, cancel);

    // A draft that can no longer be read is none.
    private static MyDraft View(LaneDraft? draft) =>
        draft is not null && LaneJson.Read(draft.Document).ValueOrDefault is { } document
            ? new MyDraft(
                new DraftView(
                    draft.BaseNumber,
                    document,
                    LaneWorks.Of(document).GuardsOf(draft.Guards),
                    draft.Note,
                    draft.At,
                    draft.ThrownAt
                )
            )
            : new MyDraft(null);
}
