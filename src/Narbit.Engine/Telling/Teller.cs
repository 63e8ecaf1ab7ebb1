using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Telling;
using Narbit.Data;
using Narbit.Data.Systems;
using Narbit.Data.Telling;
using Narbit.Engine.Systems;
using NodaTime;

namespace Narbit.Engine.Telling;

/// <summary>
/// Tells people by mail of what needs them, as each wishes: at once, many in one message and never more often than the quiet time; once a
/// day, all that is open; or not. A mail is kept before it is sent, so that none is lost where the server does not take it.
/// </summary>
/// <param name="database">Where mismatches, wishes and mails are.</param>
/// <param name="door">The way out.</param>
/// <param name="vault">Where the server's password is opened.</param>
/// <param name="clock">The time.</param>
public sealed class Teller(Database database, IMailDoor door, ICredentialVault vault, TimeProvider clock)
{
    // A storm is one message, and a system that comes and goes is told of so often at most.
    private static readonly TimeSpan Quiet = TimeSpan.FromMinutes(15);

    /// <summary>Makes the mails that are due, and sends those that wait.</summary>
    /// <returns>How many the server has taken.</returns>
    public async Task<int> TellAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.MailServers.AsNoTracking().FirstOrDefaultAsync(cancel) is not { } server)
            return 0;
        if (await db.Workspaces.AsNoTracking().FirstOrDefaultAsync(cancel) is not { } workspace)
            return 0;
        var people = await db.Colleagues.AsNoTracking().Where(c => c.Mail != null && c.Mail != "").ToListAsync(cancel);
        foreach (var person in people)
            await MakeAsync(db, workspace, server, person, cancel);
        await db.SaveChangesAsync(cancel);
        return await SendAsync(db, server, cancel);
    }

    /// <summary>Sends a mail that says nothing but that it arrived.</summary>
    /// <returns>Why it does not arrive; null: the server has taken it.</returns>
    public Task<Reason?> TestAsync(MailServer server, string? password, string to, CancellationToken cancel) =>
        door.SendAsync(
            server,
            password,
            to,
            new Message(
                "Narbit can send mails",
                "This came from Narbit; nothing is to be done.\r\n",
                "<p>This came from Narbit; nothing is to be done.</p>"
            ),
            cancel
        );

    private async Task MakeAsync(NarbitContext db, Workspace workspace, MailServer server, Colleague person, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var wishes = await WishesAsync(db, person.Name, cancel);
        var (today, isDue) = Day(workspace, server, now);
        var told = await db.Told.FirstOrDefaultAsync(t => t.Person == person.Name, cancel);
        if (told is null)
            // Of what was there before anybody was told, somebody is told when the next day is summed up.
            db.Told.Add(
                told = new Told
                {
                    Person = person.Name,
                    Until = await db.Told.AnyAsync(cancel) ? now : server.Since,
                    SummedUpOn = isDue ? today : null,
                }
            );
        await AtOnceAsync(db, workspace, server, (person, told, wishes), now, cancel);
        if (isDue && told.SummedUpOn != today)
            await DailyAsync(db, workspace, server, (person, told, wishes), (today, now), cancel);
    }

    // The local day, and whether its time has come.
    private static (string Today, bool IsDue) Day(Workspace workspace, MailServer server, DateTimeOffset now)
    {
        var zone = DateTimeZoneProviders.Tzdb.GetZoneOrNull(workspace.TimeZone) ?? DateTimeZone.Utc;
        var here = Instant.FromDateTimeOffset(now).InZone(zone).LocalDateTime;
        var due = TimeOnly.ParseExact(server.DailyAt, "HH:mm", CultureInfo.InvariantCulture);
        return (here.Date.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture), here.TimeOfDay >= LocalTime.FromTimeOnly(due));
    }

    private static async Task AtOnceAsync(
        NarbitContext db,
        Workspace workspace,
        MailServer server,
        (Colleague Person, Told Told, Wishes Wishes) who,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        // A clock that was set back silences nobody.
        if (who.Told.AtOnceAt <= now && now - who.Told.AtOnceAt < Quiet)
            return;
        who.Told.Until = who.Told.Until > now ? now - Quiet : who.Told.Until;
        var news = await LinesAsync(db, server, who.Wishes, WhenTold.AtOnce, who.Told.Until, cancel);
        who.Told.Until = now;
        if (news.Count == 0)
            return;
        who.Told.AtOnceAt = now;
        db.Mails.Add(Mail(who.Person, News.Write(workspace.Name, news, daily: false), now));
    }

    private static async Task DailyAsync(
        NarbitContext db,
        Workspace workspace,
        MailServer server,
        (Colleague Person, Told Told, Wishes Wishes) who,
        (string Day, DateTimeOffset Now) at,
        CancellationToken cancel
    )
    {
        who.Told.SummedUpOn = at.Day;
        var open = await LinesAsync(db, server, who.Wishes, WhenTold.Daily, null, cancel);
        if (open.Count > 0)
            db.Mails.Add(Mail(who.Person, News.Write(workspace.Name, open, daily: true), at.Now));
    }

    private static Mail Mail(Colleague person, Message message, DateTimeOffset now) =>
        new()
        {
            Person = person.Name,
            To = person.Mail!,
            Subject = message.Subject,
            Text = message.Text,
            Html = message.Html,
            MadeAt = now,
            NextAt = now,
        };

    // What is open and wished so; after an instant only what opened since.
    private static Task<IReadOnlyList<NewsLine>> LinesAsync(
        NarbitContext db,
        MailServer server,
        Wishes wishes,
        WhenTold when,
        DateTimeOffset? after,
        CancellationToken cancel
    ) => OpenCauses.Async(db, server.LinksTo, cause => wishes.Of(cause) == when, after, cancel);

    /// <summary>What somebody wishes to be told of, and when.</summary>
    public static async Task<Wishes> WishesAsync(NarbitContext db, string person, CancellationToken cancel)
    {
        var said = await db.Wishes.AsNoTracking().Where(w => w.Person == person).ToListAsync(cancel);
        return new Wishes(
            said.Where(w => w.Cause == "").ToDictionary(w => w.Harm, w => w.When),
            said.Where(w => w.Cause != "").ToDictionary(w => w.Cause, w => w.When, StringComparer.Ordinal)
        );
    }

    private async Task<int> SendAsync(NarbitContext db, MailServer server, CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        var never = now + Retries.Longest + Retries.Longest;
        var waiting = await db
            .Mails.Where(m => m.SentAt == null && (m.NextAt <= now || m.NextAt > never))
            .OrderBy(m => m.Id)
            .ToListAsync(cancel);
        var password = server.ProtectedPassword is { } kept ? vault.Open(kept).ValueOrDefault?.Secret : null;
        foreach (var mail in waiting)
        {
            var fault = await SendAsync(server, password, mail, cancel);
            mail.Tries++;
            mail.Fault = fault?.Words;
            mail.SentAt = fault is null ? clock.GetUtcNow() : null;
            mail.NextAt = fault is null || mail.Tries >= Retries.Most ? null : clock.GetUtcNow() + Retries.After(mail.Tries);
            await db.SaveChangesAsync(cancel);
        }

        return waiting.Count(m => m.SentAt is not null);
    }

    // Whatever breaks over one mail is why it was not taken; the others go on.
    private async Task<Reason?> SendAsync(MailServer server, string? password, Mail mail, CancellationToken cancel)
    {
        try
        {
            return await door.SendAsync(server, password, mail.To, new Message(mail.Subject, mail.Text, mail.Html), cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return new Reason("mail.broke", $"It could not be sent to {mail.To}: {error.Message.TrimEnd('.')}.");
        }
    }
}
