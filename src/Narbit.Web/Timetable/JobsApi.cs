using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Engine.Jobs;
using Narbit.Web.Api;

namespace Narbit.Web.Timetable;

/// <summary>A job that is looked at before it is kept.</summary>
/// <param name="Id">The job that is changed; null: a new one.</param>
/// <param name="Document">What it would be.</param>
internal sealed record JobToLook(string? Id, JobDocument Document);

/// <summary>A job that is tried on orders that happened.</summary>
/// <param name="Id">The job that is changed; null: a new one.</param>
/// <param name="Document">What it would be.</param>
/// <param name="File">Orders of a file; null: the workspace's own of the last 60 days.</param>
internal sealed record JobToAdvise(string? Id, JobDocument Document, ReplayedFile? File);

/// <summary>A job that was made.</summary>
internal sealed record JobMade(string Id);

/// <summary>What became of an act, in words.</summary>
internal sealed record JobDone(string Words);

/// <summary>How a job like another one is made.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="From">The store that is exchanged; null: none, and the lanes are those that are in no job.</param>
/// <param name="To">The store that takes its place.</param>
internal sealed record JobToCopy(string Name, string? From, string? To);

/// <summary>A day on which no job begins by the clock.</summary>
internal sealed record DayOffView(string Date, string? Name);

/// <summary>Jobs: what they are, and what a person does with them in hand.</summary>
internal static class JobsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var jobs = api.MapGroup("/jobs").WithTags("Timetable");
        jobs.MapGet("/", ListAsync).WithName("listJobs");
        jobs.MapPost("/", AddAsync).WithName("addJob");
        jobs.MapPost("/look", LookAsync).WithName("lookAtJob").OnlyLooks();
        jobs.MapPost("/advice", AdviseAsync).WithName("adviseOnJob").OnlyLooks();
        jobs.MapGet("/{id}", GetAsync).WithName("getJob");
        jobs.MapPut("/{id}", SaveAsync).WithName("saveJob");
        jobs.MapDelete("/{id}", RemoveAsync).WithName("removeJob");
        jobs.MapPost("/{id}/back", BringBackAsync).WithName("bringJobBack");
        jobs.MapPost("/{id}/look", LookAtActAsync).WithName("lookAtAct").OnlyLooks();
        jobs.MapPost("/{id}/act", ActAsync).WithName("actOnJob");
        jobs.MapPost("/{id}/copy", CopyAsync).WithName("copyJob");
        api.MapGet("/days-off", DaysOffAsync).WithName("daysOff").WithTags("Timetable");
        api.MapPut("/days-off", SetDaysOffAsync).WithName("setDaysOff").WithTags("Timetable");
    }

    private static async Task<Ok<IReadOnlyList<JobView>>> ListAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var jobs = await db
            .Jobs.AsNoTracking()
            .Include(j => j.Lanes)
            .OrderByDescending(j => j.OnTop)
            .ThenBy(j => j.Name)
            .ToListAsync(cancel);
        var views = await JobViews.OpenAsync(db, clock.GetUtcNow(), cancel);
        return TypedResults.Ok(await views.JobsAsync(jobs, cancel));
    }

    private static async Task<Results<Ok<JobView>, ProblemHttpResult>> GetAsync(
        string id,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Jobs.AsNoTracking().Include(j => j.Lanes).FirstOrDefaultAsync(j => j.Id == id, cancel) is not { } job)
            return Problems.NotFound($"There is no job “{id}”.");
        var views = await JobViews.OpenAsync(db, clock.GetUtcNow(), cancel);
        return TypedResults.Ok((await views.JobsAsync([job], cancel))[0]);
    }

    private static async Task<Results<Created<JobMade>, ProblemHttpResult>> AddAsync(
        JobDocument document,
        JobDesk desk,
        CancellationToken cancel
    ) => Made(await desk.SaveAsync(null, document, cancel));

    private static async Task<Results<Created<JobMade>, ProblemHttpResult>> CopyAsync(
        string id,
        JobToCopy request,
        Database database,
        JobCopying copying,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        return Made(await copying.CopyAsync(id, request.Name, request.From, request.To, by, cancel));
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SaveAsync(
        string id,
        JobDocument document,
        JobDesk desk,
        CancellationToken cancel
    ) => (await desk.SaveAsync(id, document, cancel)).Fault is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

    private static async Task<Results<NoContent, ProblemHttpResult>> RemoveAsync(string id, JobDesk desk, CancellationToken cancel) =>
        await desk.RemoveAsync(id, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

    private static async Task<Results<NoContent, ProblemHttpResult>> BringBackAsync(string id, JobDesk desk, CancellationToken cancel) =>
        await desk.BringBackAsync(id, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();

    private static async Task<Results<Ok<JobEffect>, ProblemHttpResult>> LookAsync(
        JobToLook request,
        JobDesk desk,
        CancellationToken cancel
    )
    {
        var effect = await desk.LookAsync(request.Id, request.Document, cancel);
        return effect.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(effect.Value);
    }

    private static async Task<Results<Ok<Advice>, ProblemHttpResult>> AdviseAsync(
        JobToAdvise request,
        Advisor advisor,
        CancellationToken cancel
    )
    {
        var advice = await advisor.AdviseAsync(request.Id, request.Document, request.File, cancel);
        return advice.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(advice.Value);
    }

    private static async Task<Results<Ok<JobEffect>, ProblemHttpResult>> LookAtActAsync(
        string id,
        JobAct act,
        JobDesk desk,
        CancellationToken cancel
    )
    {
        var effect = await desk.LookAsync(id, act, cancel);
        return effect.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(effect.Value);
    }

    private static async Task<Results<Ok<JobDone>, ProblemHttpResult>> ActAsync(
        string id,
        JobAct act,
        Database database,
        JobDesk desk,
        CancellationToken cancel
    )
    {
        var by = await People.AtWorkAsync(database, cancel);
        var done = await desk.DoAsync(id, act, by, cancel);
        return done.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(new JobDone(done.Value));
    }

    private static async Task<Ok<IReadOnlyList<DayOffView>>> DaysOffAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok<IReadOnlyList<DayOffView>>(
            await db.DaysOff.OrderBy(d => d.Date).Select(d => new DayOffView(d.Date, d.Name)).ToListAsync(cancel)
        );
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> SetDaysOffAsync(
        IReadOnlyList<DayOffView> days,
        JobDesk desk,
        CancellationToken cancel
    )
    {
        var fault = await desk.SetDaysOffAsync([.. days.Select(d => new DayOff { Date = d.Date, Name = d.Name })], cancel);
        return fault is null ? TypedResults.NoContent() : Problems.Of(fault);
    }

    private static Results<Created<JobMade>, ProblemHttpResult> Made(Outcome<string> made) =>
        made.Fault is { } fault ? Problems.Of(fault) : TypedResults.Created($"/api/jobs/{made.Value}", new JobMade(made.Value));
}
