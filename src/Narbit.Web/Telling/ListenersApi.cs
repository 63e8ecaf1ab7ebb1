using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Engine.Telling;
using Narbit.Web.Api;

namespace Narbit.Web.Telling;

/// <summary>A tool that is told of what is new.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Address">Where it listens.</param>
/// <param name="OnlyHarm">Whether it is told only of what people are usually told of at once.</param>
/// <param name="SentAt">When it took the last webhook; null: it has taken none yet.</param>
/// <param name="Waiting">How many webhooks wait to be taken.</param>
/// <param name="Fault">Why the last one was not taken; null: it was.</param>
internal sealed record ListenerView(
    long Id,
    string Name,
    string Address,
    bool OnlyHarm,
    DateTimeOffset? SentAt,
    int Waiting,
    string? Fault
);

/// <summary>A tool to be told.</summary>
/// <param name="Name">What it is called.</param>
/// <param name="Address">Where it listens, http or https.</param>
/// <param name="OnlyHarm">Whether it is told only of what people are usually told of at once.</param>
/// <param name="LinksTo">The address at which people reach Narbit, for the links that it is told.</param>
internal sealed record ListenerToAdd(string Name, string Address, bool OnlyHarm, string LinksTo);

/// <summary>The secret that a tool's webhooks are signed with; told this once.</summary>
internal sealed record ListenerSecret(string Secret);

/// <summary>Other tools that are told by signed webhooks.</summary>
internal static class ListenersApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var listeners = api.MapGroup("/telling/listeners").WithTags("Settings");
        listeners.MapPost("/", AddAsync).WithName("addListener");
        listeners.MapDelete("/{id:long}", RemoveAsync).WithName("removeListener");
        listeners.MapPost("/{id:long}/test", TestAsync).WithName("testListener");
    }

    /// <summary>All of them.</summary>
    internal static async Task<IReadOnlyList<ListenerView>> AllAsync(NarbitContext db, CancellationToken cancel)
    {
        var listeners = await db.Listeners.AsNoTracking().OrderBy(l => l.Name).ToListAsync(cancel);
        var views = new List<ListenerView>();
        foreach (var listener in listeners)
        {
            var own = db.Deliveries.Where(d => d.ListenerId == listener.Id);
            views.Add(
                new ListenerView(
                    listener.Id,
                    listener.Name,
                    listener.Address,
                    listener.OnlyHarm,
                    await own.MaxAsync(d => d.SentAt, cancel),
                    await own.CountAsync(d => d.NextAt != null, cancel),
                    await own.OrderByDescending(d => d.Id).Select(d => d.Fault).FirstOrDefaultAsync(cancel)
                )
            );
        }

        return views;
    }

    private static async Task<Results<Ok<ListenerSecret>, ProblemHttpResult>> AddAsync(
        ListenerToAdd listener,
        Announcer announcer,
        CancellationToken cancel
    )
    {
        var added = await announcer.AddAsync(listener.Name, listener.Address, listener.OnlyHarm, listener.LinksTo, cancel);
        return added.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(new ListenerSecret(added.Value));
    }

    private static async Task<NoContent> RemoveAsync(long id, Announcer announcer, CancellationToken cancel)
    {
        await announcer.RemoveAsync(id, cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TestAsync(long id, Announcer announcer, CancellationToken cancel) =>
        await announcer.TestAsync(id, cancel) is { } fault ? Problems.Of(fault) : TypedResults.NoContent();
}
