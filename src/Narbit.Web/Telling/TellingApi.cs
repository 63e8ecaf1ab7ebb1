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
internal sealed record MailServerSettings
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

/// <summary>When the person at the screen wants to be told of a cause, or of all others that do its harm.</summary>
/// <param name="Harm">The harm.</param>
/// <param name="When">When.</param>
/// <param name="Cause">The cause; null: all others of the harm.</param>
/// <param name="Heading">What the cause is called.</param>
internal sealed record WishView(Harm Harm, WhenTold When, string? Cause = null, string? Heading = null);

/// <summary>A cause that somebody may have a wish about.</summary>
internal sealed record CauseToTell(string Cause, string Heading, Harm Harm);

/// <summary>A mail and what became of it.</summary>
internal sealed record MailView(
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
/// <param name="Causes">The causes that were ever met here.</param>
/// <param name="Listeners">Other tools that are told.</param>
internal sealed record TellingView(
    MailServerSettings? Server,
    string Person,
    string? Mail,
    IReadOnlyList<WishView> Wishes,
    IReadOnlyList<MailView> Mails,
    IReadOnlyList<CauseToTell> Causes,
    IReadOnlyList<ListenerView> Listeners
);

/// <summary>How people are told of what needs them.</summary>
internal static class TellingApi
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
                [.. Wishes(wishes)],
                [.. mails.Select(m => new MailView(m.Id, m.Person, m.Subject, m.MadeAt, m.SentAt, m.Tries, m.NextAt, m.Fault))],
                await CausesAsync(db, cancel),
                await ListenersApi.AllAsync(db, cancel)
            )
        );
    }

    // Each harm, and below it the causes that have a wish of their own.
    private static IEnumerable<WishView> Wishes(Wishes wishes) =>
        from harm in Enum.GetValues<Harm>()
        let own = from wish in wishes.OfCauses
        let cause = MismatchCauses.Of(wish.Key)
        where cause.Harm == harm
        select new WishView(harm, wish.Value, wish.Key, cause.Heading)
        from view in own.Prepend(new WishView(harm, wishes.Of(harm)))
        select view;

    private static async Task<IReadOnlyList<CauseToTell>> CausesAsync(NarbitContext db, CancellationToken cancel)
    {
        var met = await db.Mismatches.Select(m => m.Cause).Distinct().ToListAsync(cancel);
        return
        [
            .. met.Select(code => MismatchCauses.Of(code))
                .OrderBy(c => c.Harm)
                .ThenBy(c => c.Heading, StringComparer.OrdinalIgnoreCase)
                .Select(c => new CauseToTell(c.Code, c.Heading, c.Harm)),
        ];
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
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var kept = await db.MailServers.FirstOrDefaultAsync(cancel);
        var made = MailServerCheck.Of(settings, kept, vault, policy, clock.GetUtcNow());
        if (made.Fault is { } fault)
            return Problems.Of(fault);
        if (kept is not null)
            db.MailServers.Remove(kept);
        await db.SaveChangesAsync(cancel);
        db.MailServers.Add(made.Value);
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
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
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var person = await People.AtWorkAsync(database, cancel);
        await db.Wishes.Where(w => w.Person == person).ExecuteDeleteAsync(cancel);
        db.Wishes.AddRange(
            wishes
                .DistinctBy(w => (w.Harm, w.Cause))
                .Select(w => new Wish
                {
                    Person = person,
                    Harm = w.Harm,
                    Cause = w.Cause ?? "",
                    When = w.When,
                })
        );
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }
}
