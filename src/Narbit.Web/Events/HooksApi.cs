using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Engine.Events;
using Narbit.Web.Api;

namespace Narbit.Web.Events;

/// <summary>What is known of a system's webhooks.</summary>
/// <param name="Path">Where they are sent to, below this workspace's address.</param>
/// <param name="SecretAt">When the secret was made; null: there is none yet, so none are taken.</param>
/// <param name="Taken">How many were taken in the last 24 hours.</param>
/// <param name="LastAt">When the last one was taken; null: none ever.</param>
internal sealed record HookView(string Path, DateTimeOffset? SecretAt, int Taken, DateTimeOffset? LastAt);

/// <summary>A new secret, told this once.</summary>
internal sealed record HookSecret(string Secret)
{
    public override string ToString() => "(secret)";
}

/// <summary>Webhooks: what systems send, and the secrets that they sign with.</summary>
internal static class HooksApi
{
    /// <summary>The most bytes of a webhook: what it is about needs little room.</summary>
    public const int MostBytes = 64 * 1024;

    /// <summary>Where systems send them.</summary>
    public static void MapDoor(IEndpointRouteBuilder app) =>
        app.MapPost("/hooks/{system}", TakeAsync).ExcludeFromDescription().DisableAntiforgery();

    public static void Map(RouteGroupBuilder api)
    {
        var hooks = api.MapGroup("/systems/{id}/hook").WithTags("Systems");
        hooks.MapGet("/", GetAsync).WithName("systemHook");
        hooks.MapPost("/secret", RenewAsync).WithName("renewHookSecret");
    }

    private static async Task<IResult> TakeAsync(string system, HttpRequest request, HookDesk desk, CancellationToken cancel)
    {
        if (await BodyAsync(request, cancel) is not { } body)
            return Problems.Of(new Reason("hook.tooLarge", $"A webhook has at most {MostBytes / 1024} KiB."));
        var message = new HookMessage(name => request.Headers.TryGetValue(name, out var value) ? value.ToString() : null, body);
        var taken = await desk.TakeAsync(system, message, cancel);
        if (taken.Fault is { } fault)
            return Problems.Of(fault);
        return TypedResults.Accepted((string?)null, new { taken = true, known = !taken.Value });
    }

    // No more is read than may be there, whatever the sender says of its length.
    private static async Task<byte[]?> BodyAsync(HttpRequest request, CancellationToken cancel)
    {
        if (request.ContentLength > MostBytes)
            return null;
        var buffer = new byte[MostBytes + 1];
        var read = await request.Body.ReadAtLeastAsync(buffer, buffer.Length, throwOnEndOfStream: false, cancel);
        return read > MostBytes ? null : buffer[..read];
    }

    private static async Task<Results<Ok<HookView>, ProblemHttpResult>> GetAsync(
        string id,
        Database database,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, cancel) is not { } system)
            return Problems.NotFound($"There is no system “{id}”.");
        if (Adapters.SystemDocument.Read(system.Document).ValueOrDefault?.Hook is null)
            return Problems.Of(new Reason("hook.undescribed", $"The description of {system.Name} says nothing of webhooks."));
        var events = db.HookEvents.Where(e => e.SystemId == id);
        var since = clock.GetUtcNow().AddDays(-1);
        return TypedResults.Ok(
            new HookView(
                $"/hooks/{id}",
                system.HookSecretAt,
                await events.CountAsync(e => e.ReceivedAt >= since, cancel),
                await events.MaxAsync(e => (DateTimeOffset?)e.ReceivedAt, cancel)
            )
        );
    }

    private static async Task<Results<Ok<HookSecret>, ProblemHttpResult>> RenewAsync(string id, HookDesk desk, CancellationToken cancel)
    {
        var secret = await desk.RenewSecretAsync(id, cancel);
        return secret.Fault is { } fault ? Problems.Of(fault) : TypedResults.Ok(new HookSecret(secret.Value));
    }
}

/// <summary>Reads what webhooks were about, as long as Narbit runs.</summary>
internal sealed class HookWorker(HookDesk desk, ILogger<HookWorker> log) : BackgroundService
{
    private static readonly TimeSpan Rests = TimeSpan.FromSeconds(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await desk.WorkAsync(stoppingToken);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "Webhooks could not be handled; they are tried again");
                await Task.Delay(Rests, stoppingToken);
            }
        }
    }
}
