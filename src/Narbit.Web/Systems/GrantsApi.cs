using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.Systems;
using Narbit.Web.Api;

namespace Narbit.Web.Systems;

/// <summary>A request for access at a system that is being described.</summary>
internal sealed record GrantToAsk(string? Address, RestAuthentication Authentication, CredentialEntry Credential);

/// <summary>What a person came back with.</summary>
internal sealed record GrantAnswer(string State, string? Code, string? Refusal);

/// <summary>People grant Narbit access at systems that want that.</summary>
internal static class GrantsApi
{
    public static void Map(RouteGroupBuilder api)
    {
        var grants = api.MapGroup("/grants").WithTags("Systems");
        grants.MapPost("/", Begin).WithName("askForGrant");
        grants.MapGet("/{id}", Standing).WithName("grantStanding");
        grants.MapPost("/redeem", RedeemAsync).WithName("redeemGrant");
        api.MapPost("/systems/{id}/grant", BeginForAsync).WithTags("Systems").WithName("askForSystemGrant");
    }

    private static Results<Ok<GrantBegun>, ProblemHttpResult> Begin(GrantToAsk request, GrantDesk grants, HttpContext http)
    {
        var document = ProposalsApi.Unnamed(request.Authentication);
        var client = new Credential(request.Credential.User, request.Credential.Secret);
        return ProposalsApi.Answer(grants.Begin(document, request.Address ?? "", client, null, Back(http)));
    }

    private static async Task<Results<Ok<GrantBegun>, ProblemHttpResult>> BeginForAsync(
        string id,
        Database database,
        AdapterSource adapters,
        GrantDesk grants,
        HttpContext http,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        if (await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == id, cancel) is not { } system)
            return Problems.NotFound($"There is no system “{id}”.");
        if (SystemDocument.Read(system.Document).ValueOrDefault is not RestDocument document)
            return Problems.Of(new Reason("grant.files", $"{system.Name} is reached by files; no access is granted there."));
        var known = adapters.Known(system);
        if (known is not { Fault: null } opened)
            return Problems.Of(known?.Fault ?? new Reason("credential.needed", "Enter the client's name first, and save the connection."));
        return ProposalsApi.Answer(grants.Begin(document, system.Address, opened.Value, id, Back(http)));
    }

    private static Results<Ok<GrantStanding>, ProblemHttpResult> Standing(string id, GrantDesk grants) =>
        grants.Standing(id) is { } standing ? TypedResults.Ok(standing) : Problems.NotFound("There is no such request for access.");

    private static async Task<Results<NoContent, ProblemHttpResult>> RedeemAsync(
        GrantAnswer answer,
        GrantDesk grants,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        if (await grants.RedeemAsync(answer.State, answer.Code, answer.Refusal, cancel) is { } fault)
            return Problems.Of(fault);
        live.Tell(new LiveEvent("system", ""));
        return TypedResults.NoContent();
    }

    // The page on which people come back, at the very name under which they see Narbit.
    private static Uri Back(HttpContext http) => new($"{http.Request.Scheme}://{http.Request.Host}/granted");
}
