using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Mismatches;
using Narbit.Core.Telling;
using Narbit.Data;
using Narbit.Data.Telling;
using Narbit.Engine.Systems;
using Narbit.Engine.Telling;
using Narbit.Web.Api;

namespace Narbit.Web.Telling;

/// <summary>The mail server as it is set; its password is never told.</summary>
public sealed record MailServerSettings
{
    public required string Host { get; init; }

    public int Port { get; init; }

    public MailSecurity Security { get; init; }

    public string? User { get; init; }

    /// <summary>A new password; null: the one that is kept stays.</summary>
    public string? Password { get; init; }

    public required string From { get; init; }

    /// <summary>The address at which people reach Narbit, for the links in mails.</summary>
    public required string LinksTo { get; init; }

    /// <summary>The time of day at which a day is summed up, <c>HH:mm</c>.</summary>
    public required string DailyAt { get; init; }
}

/// <summary>When the person at the screen wants to be told of what does some harm.</summary>
public sealed record WishView(Harm Harm, WhenTold When);

/// <summary>A mail and what became of it.</summary>
public sealed record MailView(
    long Id,
    string Person,
    string Subject,
    DateTimeOffset MadeAt,
    DateTimeOffset? SentAt,
    int Tries,
    DateTimeOffset? NextAt,
    string? Fault
);

/// <summary>How people are told.</summary>
/// <param name="Server">The mail server; null: none is set, and nobody is told.</param>
/// <param name="Person">Who is at the screen.</param>
/// <param name="Mail">Their mail address; null: they have none, and are not told.</param>
/// <param name="Wishes">When they want to be told of what.</param>
/// <param name="Mails">The last mails, the newest first.</param>
public sealed record TellingView(
    MailServerSettings? Server,
    string Person,
    string? Mail,
    IReadOnlyList<WishView> Wishes,
    IReadOnlyList<MailView> Mails
);

/// <summary>How people are told of what needs them.</summary>
public static class TellingApi
{
    private const int LastMails = 20;

    public static void Map(RouteGroupBuilder api)
    {
        var telling = api.MapGroup("/telling").WithTags("Settings");
        telling.MapGet("/", GetAsync).WithName("telling");
        telling.MapPut("/server", SaveAsync).WithName("setMailServer");
        telling.MapDelete("/server", RemoveAsync).WithName("removeMailServer");
        telling.MapPost("/server/test", TestAsync).WithName("testMailServer");
        telling.MapPut("/wishes", WishAsync).WithName("setWishes");
    }

    private static async Task<Ok<TellingView>> GetAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var person = await People.AtWorkAsync(database, cancel);
        var server = await db.MailServers.AsNoTracking().FirstOrDefaultAsync(cancel);
        var wishes = await Teller.WishesAsync(db, person, cancel);
        var mails = await db.Mails.AsNoTracking().OrderByDescending(m => m.Id).Take(LastMails).ToListAsync(cancel);
        return TypedResults.Ok(
            new TellingView(
                server is null ? null : View(server),
                person,
                await db.Colleagues.Where(c => c.Name == person).Select(c => c.Mail).FirstOrDefaultAsync(cancel),
                [.. wishes.OrderBy(w => w.Key).Select(w => new WishView(w.Key, w.Value))],
                [.. mails.Select(m => new MailView(m.Id, m.Person, m.Subject, m.MadeAt, m.SentAt, m.Tries, m.NextAt, m.Fault))]
            )
        );
    }

    private static MailServerSettings View(MailServer server) =>
        new()
        {
            Host = server.Host,
            Port = server.Port,
            Security = server.Security,
            User = server.User,
            From = server.From,
            LinksTo = server.LinksTo,
            DailyAt = server.DailyAt,
        };

    private static async Task<Results<NoContent, ProblemHttpResult>> SaveAsync(
        MailServerSettings settings,
        Database database,
        ICredentialVault vault,
        OutboundPolicy policy,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var kept = await db.MailServers.FirstOrDefaultAsync(cancel);
        var made = MailServerCheck.Of(settings, kept, vault, policy, clock.GetUtcNow());
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        if (kept is not null)
            db.MailServers.Remove(kept);
        await db.SaveChangesAsync(cancel);
        db.MailServers.Add(made.Value);
        await db.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<NoContent> RemoveAsync(Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await db.MailServers.ExecuteDeleteAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TestAsync(
        MailServerSettings settings,
        Database database,
        Teller teller,
        ICredentialVault vault,
        OutboundPolicy policy,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        await using var db = database.CreateDbContext();
        var person = await People.AtWorkAsync(database, cancel);
        if (await db.Colleagues.Where(c => c.Name == person).Select(c => c.Mail).FirstOrDefaultAsync(cancel) is not { Length: > 0 } to)
            return Problems.Of(new Reason("mail.nobody", $"{person} has no mail address; give one under “Who works here”."));
        var made = MailServerCheck.Of(
            settings,
            await db.MailServers.AsNoTracking().FirstOrDefaultAsync(cancel),
            vault,
            policy,
            clock.GetUtcNow()
        );
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        var password = made.Value.ProtectedPassword is { } sealedOne ? vault.Open(sealedOne).ValueOrDefault?.Secret : null;
        return await teller.TestAsync(made.Value, password, to, cancel) is { } refused ? Problems.Of(refused) : TypedResults.NoContent();
    }

    private static async Task<NoContent> WishAsync(IReadOnlyList<WishView> wishes, Database database, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var person = await People.AtWorkAsync(database, cancel);
        await db.Wishes.Where(w => w.Person == person).ExecuteDeleteAsync(cancel);
        db.Wishes.AddRange(
            wishes
                .DistinctBy(w => w.Harm)
                .Select(w => new Wish
                {
                    Person = person,
                    Harm = w.Harm,
                    When = w.When,
                })
        );
        await db.SaveChangesAsync(cancel);
        return TypedResults.NoContent();
    }
}
