using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Telling;
using Narbit.Data;
using Narbit.Data.Telling;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Telling;

/// <summary>
/// Tells other tools by signed webhooks of what is new: by cause, what and how many, and never which record or who. A webhook is kept
/// before it is sent, and sent again where it is not taken.
/// </summary>
/// <param name="database">Where mismatches and webhooks are.</param>
/// <param name="door">The way out.</param>
/// <param name="vault">Where secrets are kept.</param>
/// <param name="policy">Where may be called.</param>
/// <param name="clock">The time.</param>
public sealed class Announcer(Database database, IHookDoor door, ICredentialVault vault, OutboundPolicy policy, TimeProvider clock)
{
    private const int SecretBytes = 32;
    private const int LongestName = 60;

    // A storm is one webhook.
    private static readonly TimeSpan Quiet = TimeSpan.FromMinutes(1);
    private static readonly TimeSpan Kept = TimeSpan.FromDays(30);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <summary>Adds a tool, which is told of what opens from now on.</summary>
    /// <returns>The secret that its webhooks are signed with, told this once; or why it cannot be added.</returns>
    public async Task<Outcome<string>> AddAsync(string name, string address, bool onlyHarm, string linksTo, CancellationToken cancel)
    {
        if (name.Trim().Length is 0 or > LongestName)
            return new Reason("listener.name", $"Say what the tool is called, in at most {LongestName} characters.");
        if (policy.Check(address).Fault is { } fault)
            return fault;
        var secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(SecretBytes));
        await using var db = database.CreateDbContext();
        db.Listeners.Add(
            new Listener
            {
                Name = name.Trim(),
                Address = address.Trim(),
                ProtectedSecret = vault.Protect(new Credential(null, secret)),
                OnlyHarm = onlyHarm,
                LinksTo = linksTo,
                Until = clock.GetUtcNow(),
            }
        );
        await db.SaveChangesAsync(cancel);
        return secret;
    }

    /// <summary>No longer tells a tool.</summary>
    public async Task RemoveAsync(long id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await db.Deliveries.Where(d => d.ListenerId == id).ExecuteDeleteAsync(cancel);
        await db.Listeners.Where(l => l.Id == id).ExecuteDeleteAsync(cancel);
    }

    /// <summary>Sends a tool a webhook that says nothing but that it arrived.</summary>
    /// <returns>Why it was not taken; null: it was.</returns>
    public async Task<Reason?> TestAsync(long id, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (await db.Listeners.AsNoTracking().FirstOrDefaultAsync(l => l.Id == id, cancel) is not { } listener)
            return new Reason("listener.unknown", "There is no such tool any more.");
        var made = Make(listener, "test", [], await NameAsync(db, cancel));
        return await SendAsync(listener, made, cancel);
    }

    /// <summary>Makes the webhooks that are due, and sends those that wait.</summary>
    /// <returns>How many were taken.</returns>
    public async Task<int> TellAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var listeners = await db.Listeners.ToListAsync(cancel);
        if (listeners.Count == 0)
            return 0;
        var (now, name) = (clock.GetUtcNow(), await NameAsync(db, cancel));
        foreach (var listener in listeners)
            await MakeAsync(db, listener, name, now, cancel);
        await db.SaveChangesAsync(cancel);
        // Each tool by itself: one that is slow, or cannot be reached, keeps nobody else waiting.
        var taken = await Task.WhenAll(listeners.Select(l => SendAsync(l, now, cancel)));
        var old = now - Kept;
        await db.Deliveries.Where(d => d.MadeAt < old).ExecuteDeleteAsync(cancel);
        return taken.Sum();
    }

    // What cannot be made for one tool is told to the others all the same.
    private async Task MakeAsync(NarbitContext db, Listener listener, string? name, DateTimeOffset now, CancellationToken cancel)
    {
        // A clock that was set back silences nobody.
        listener.Until = listener.Until > now ? now - Quiet : listener.Until;
        if (now - listener.Until < Quiet)
            return;
        try
        {
            var news = await OpenCauses.Async(
                db,
                listener.LinksTo,
                cause => !listener.OnlyHarm || News.Usual(cause.Harm) == WhenTold.AtOnce,
                listener.Until,
                cancel
            );
            // It is quiet after a webhook, and not before the first one that something is to be told of.
            if (news.Count == 0)
                return;
            listener.Until = now;
            db.Deliveries.Add(Make(listener, "mismatches", news, name));
        }
        catch (Exception error) when (error is UriFormatException or InvalidOperationException or ArgumentException)
        {
            listener.Until = now;
            var why = $"Nothing could be made for it to be told: {error.Message.TrimEnd('.')}. Remove it and add it anew.";
            db.Deliveries.Add(
                new Delivery
                {
                    ListenerId = listener.Id,
                    EventId = Guid.NewGuid().ToString("N"),
                    MadeAt = now,
                    Body = "{}",
                    Tries = Retries.Most,
                    Fault = why,
                }
            );
        }
    }

    private Delivery Make(Listener listener, string kind, IReadOnlyList<NewsLine> news, string? workspace)
    {
        var (id, now) = (Guid.NewGuid().ToString("N"), clock.GetUtcNow());
        return new Delivery
        {
            ListenerId = listener.Id,
            EventId = id,
            MadeAt = now,
            NextAt = now,
            Body = JsonSerializer.Serialize(
                new
                {
                    Id = id,
                    At = now.ToString("O", CultureInfo.InvariantCulture),
                    Kind = kind,
                    Workspace = workspace,
                    Causes = news.Select(n => new
                    {
                        Cause = n.Cause.Code,
                        n.Cause.Heading,
                        n.Cause.Harm,
                        n.Count,
                        n.Systems,
                        Link = n.Link.AbsoluteUri,
                    }),
                },
                Json
            ),
        };
    }

    private async Task<int> SendAsync(Listener listener, DateTimeOffset now, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var never = now + Retries.Longest + Retries.Longest;
        var waiting = await db
            .Deliveries.Where(d => d.ListenerId == listener.Id && d.SentAt == null && (d.NextAt <= now || d.NextAt > never))
            .OrderBy(d => d.Id)
            .ToListAsync(cancel);
        foreach (var delivery in waiting)
        {
            var fault = await SendAsync(listener, delivery, cancel);
            delivery.Tries++;
            delivery.Fault = fault?.Words;
            delivery.SentAt = fault is null ? clock.GetUtcNow() : null;
            delivery.NextAt = fault is null || delivery.Tries >= Retries.Most ? null : clock.GetUtcNow() + Retries.After(delivery.Tries);
            await db.SaveChangesAsync(cancel);
        }

        return waiting.Count(d => d.SentAt is not null);
    }

    // Whatever breaks over one webhook is why it was not taken.
    private async Task<Reason?> SendAsync(Listener listener, Delivery delivery, CancellationToken cancel)
    {
        try
        {
            return vault.Open(listener.ProtectedSecret).ValueOrDefault is { } secret
                ? await door.SendAsync(new Uri(listener.Address), new OutgoingHook(delivery.EventId, delivery.Body, secret.Secret), cancel)
                : new Reason("listener.secret", $"The secret of {listener.Name} can no longer be opened; add the tool anew.");
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return new Reason("listener.broke", $"{listener.Name} cannot be told: {error.Message.TrimEnd('.')}.");
        }
    }

    private static Task<string?> NameAsync(NarbitContext db, CancellationToken cancel) =>
        db.Workspaces.Select(w => w.Name).FirstOrDefaultAsync(cancel);
}
