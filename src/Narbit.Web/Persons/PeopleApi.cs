using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Engine;
using Narbit.Engine.People;
using Narbit.Web.Api;

namespace Narbit.Web.Persons;

/// <summary>Whom it is about: a mail address, a customer number or a telephone number.</summary>
internal sealed record PersonNamed(string Who);

/// <summary>When orders are anonymised by themselves.</summary>
/// <param name="Days">So many days after they were placed; null: never.</param>
internal sealed record AnonymiseAfter(int? Days);

/// <summary>One person's data: as a file, and anonymised at once or after some days.</summary>
internal static class PeopleApi
{
    private const int MostDays = 36_500;

    public static void Map(RouteGroupBuilder api)
    {
        var people = api.MapGroup("/people").WithTags("People");
        people.MapGet("/data.json", DataAsync).WithName("personData");
        people.MapPost("/anonymise", AnonymiseAsync).WithName("anonymisePerson");
        people.MapGet("/anonymise-after", AfterAsync).WithName("anonymiseAfter");
        people.MapPut("/anonymise-after", SetAfterAsync).WithName("setAnonymiseAfter");
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> DataAsync(
        string who,
        PersonDesk desk,
        CancellationToken cancel
    )
    {
        var data = await desk.CollectAsync(who, cancel);
        if (data.Records.Count == 0)
            return Problems.NotFound($"No customer or order names “{who}” as mail address, customer number or telephone number.");
        return TypedResults.File(JsonSerializer.SerializeToUtf8Bytes(data, RuleJson.Options), "application/json", "person.json");
    }

    private static async Task<Results<Ok<Anonymised>, ProblemHttpResult>> AnonymiseAsync(
        PersonNamed person,
        PersonDesk desk,
        LiveFeed live,
        CancellationToken cancel
    )
    {
        var done = await desk.AnonymiseAsync(person.Who, cancel);
        if (done.Records == 0)
            return Problems.NotFound($"No customer or order names “{person.Who}” as mail address, customer number or telephone number.");
        live.Tell(new LiveEvent("orders", "people"));
        return TypedResults.Ok(done);
    }

    private static async Task<Ok<AnonymiseAfter>> AfterAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return TypedResults.Ok(new AnonymiseAfter(await db.Workspaces.Select(w => w.AnonymiseAfterDays).FirstOrDefaultAsync(cancel)));
    }

    private static async Task<Results<Ok<AnonymiseAfter>, ProblemHttpResult>> SetAfterAsync(
        AnonymiseAfter after,
        Database database,
        CancellationToken cancel
    )
    {
        if (after.Days is < 1 or > MostDays)
            return Problems.Of(new Reason("choice.days", $"Orders can be anonymised after 1 to {MostDays:N0} days."));
        await using var db = database.CreateDbContext();
        await db.Workspaces.ExecuteUpdateAsync(s => s.SetProperty(w => w.AnonymiseAfterDays, after.Days), cancel);
        return TypedResults.Ok(after);
    }
}

/// <summary>Anonymises orders that are old enough, and what changed since it was anonymised, a few times a day.</summary>
internal sealed class AnonymityKeeper(Database database, PersonDesk desk, TimeProvider clock, ILogger<AnonymityKeeper> log)
    : BackgroundService
{
    private static readonly TimeSpan Looks = TimeSpan.FromHours(1);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Looks, clock);
        do
        {
            try
            {
                await using var db = database.CreateDbContext();
                var days = await db.Workspaces.Select(w => w.AnonymiseAfterDays).FirstOrDefaultAsync(stoppingToken);
                var before = days is { } n ? clock.GetUtcNow().AddDays(-n) : DateTimeOffset.UnixEpoch;
                await desk.AnonymiseOldAsync(before, stoppingToken);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "Old orders could not be anonymised; it is tried again in an hour");
            }
        } while (await timer.WaitForNextTickAsync(stoppingToken));
    }
}
