using System.Security.Cryptography;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging;
using Narbit.Adapters;
using Narbit.Core;
using Narbit.Core.Events;
using Narbit.Data;
using Narbit.Data.Events;
using Narbit.Data.Systems;
using Narbit.Engine.Jobs;
using Narbit.Engine.Reading;
using Narbit.Engine.Systems;
using Narbit.Engine.Telling;

namespace Narbit.Engine.Events;

/// <summary>
/// Takes webhooks of systems: checks who sent them, keeps each once, reads the records that they are about, and tells the jobs that
/// run at once. What a webhook says of a record is never believed: the record is read.
/// </summary>
public sealed class HookDesk(
    Database database,
    AdapterSource adapters,
    ICredentialVault vault,
    Signals signals,
    LiveFeed live,
    TimeProvider clock,
    ILogger<HookDesk>? log = null
)
{
    /// <summary>The most events of a system that may wait to be read.</summary>
    public const int MostWaiting = 10_000;

    private const int SecretBytes = 32;
    private const string Broke = "hook.broke";

    // Events that come together are handled together.
    private static readonly TimeSpan Gathers = TimeSpan.FromMilliseconds(150);
    private static readonly TimeSpan SecretBeforeCounts = TimeSpan.FromDays(1);
    private static readonly TimeSpan Kept = TimeSpan.FromDays(7);
    private static readonly TimeSpan Looks = TimeSpan.FromSeconds(30);

    private readonly Channel<string> _waiting = Channel.CreateUnbounded<string>();

    /// <summary>Takes a webhook.</summary>
    /// <returns>Whether it is new; or why it is not taken.</returns>
    public async Task<Outcome<bool>> TakeAsync(string systemId, HookMessage message, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == systemId, cancel);
        if (system is null || SystemDocument.Read(system.Document).ValueOrDefault?.Hook is not { } hook)
            return new Reason("hook.unknown", $"No system “{systemId}” sends webhooks here.");
        var now = clock.GetUtcNow();
        var fault = HookSignature.Fault(
            Secrets(system, now),
            message.Header(hook.TimeHeader),
            message.Header(hook.SignatureHeader),
            message.Body.Span,
            now
        );
        if (fault is not null)
            return fault;
        var read = HookBody.Read(hook, message.Body);
        if (read.Fault is { } unreadable)
            return unreadable;
        return await KeepAsync(db, system.Id, hook, read.Value, now, cancel);
    }

    /// <summary>Gives a system a new secret, which is told this once; the one before counts for a day longer.</summary>
    public async Task<Outcome<string>> RenewSecretAsync(string systemId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == systemId, cancel);
        if (system is null)
            return new Reason("system.unknown", $"There is no system “{systemId}”.");
        if (SystemDocument.Read(system.Document).ValueOrDefault?.Hook is null)
            return new Reason("hook.undescribed", $"The description of {system.Name} says nothing of webhooks.");
        var secret = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(SecretBytes));
        system.ProtectedHookSecretBefore = system.ProtectedHookSecret;
        system.ProtectedHookSecret = vault.Protect(new Credential(null, secret));
        system.HookSecretAt = clock.GetUtcNow();
        await db.SaveChangesAsync(cancel);
        return secret;
    }

    /// <summary>Handles what comes, until it is told to stop; first what was taken and not read before, and what is due again.</summary>
    public async Task WorkAsync(CancellationToken cancel)
    {
        await DueAsync(cancel);
        while (true)
        {
            await NewsAsync(cancel);
            await Task.Delay(Gathers, clock, cancel);
            await DueAsync(cancel);
            var systems = new HashSet<string>(StringComparer.Ordinal);
            while (_waiting.Reader.TryRead(out var system))
                systems.Add(system);
            foreach (var system in systems)
                await GuardedAsync(system, cancel);
        }
    }

    // Until something comes, or it is time to look what is due again.
    private async Task NewsAsync(CancellationToken cancel)
    {
        using var looks = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        looks.CancelAfter(Looks);
        try
        {
            await _waiting.Reader.WaitToReadAsync(looks.Token);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            // It is time.
        }
    }

    private async Task DueAsync(CancellationToken cancel)
    {
        var now = clock.GetUtcNow();
        await using var db = database.CreateDbContext();
        foreach (var system in await Waiting(db, now).Select(e => e.SystemId).Distinct().ToListAsync(cancel))
            _waiting.Writer.TryWrite(system);
    }

    // A clock that was set back makes nobody wait for it.
    private static IQueryable<HookEvent> Waiting(NarbitContext db, DateTimeOffset now)
    {
        var never = now + Retries.Longest + Retries.Longest;
        return db.HookEvents.Where(e =>
            e.ReadAt == null && e.SetAsideAt == null && (e.NextAt == null || e.NextAt <= now || e.NextAt > never)
        );
    }

    // One system whose events break keeps no other's from being read.
    private async Task GuardedAsync(string system, CancellationToken cancel)
    {
        try
        {
            await HandleAsync(system, cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            log?.LogError(error, "The webhooks of {System} could not be handled; they are tried again", system);
        }
    }

    /// <summary>
    /// Reads the records that a system's events are about, and starts the lanes that are about them. What cannot be read together is read
    /// one by one, so that one bad event stops no other; it is tried again after a while, and set aside when that is in vain.
    /// </summary>
    /// <returns>Why some could not be read; null: all were.</returns>
    public async Task<Reason?> HandleAsync(string systemId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var waiting = await Waiting(db, clock.GetUtcNow()).Where(e => e.SystemId == systemId).OrderBy(e => e.Id).ToListAsync(cancel);
        if (waiting.Count == 0)
            return null;
        var connection = await adapters.ForAsync(systemId, cancel);
        if (connection.Fault is { } fault)
        {
            foreach (var one in waiting)
                Tried(one, fault);
            await db.SaveChangesAsync(cancel);
            return fault;
        }

        Reason? unread = null;
        foreach (var some in waiting.GroupBy(e => e.Kind))
        {
            unread = await ReadAsync(connection.Value, [.. some], cancel) ?? unread;
            var read = some.Where(e => e.ReadAt is not null).Select(e => e.RecordKey).ToHashSet(StringComparer.Ordinal);
            // The turns first: a process that ends between the two tells them again, instead of never.
            if (read.Count > 0)
                await signals.TellAsync(new RecordsTouched(systemId, some.Key, read), "Webhook", cancel);
            await db.SaveChangesAsync(cancel);
        }

        var old = clock.GetUtcNow() - Kept;
        await db.HookEvents.Where(e => e.SystemId == systemId && e.ReadAt != null && e.ReceivedAt < old).ExecuteDeleteAsync(cancel);
        return unread;
    }

    private async Task<Reason?> ReadAsync(Connection connection, List<HookEvent> events, CancellationToken cancel)
    {
        var fault = await TogetherAsync(connection, events, cancel);
        if (fault is null || events.Count == 1 || !MayLieInOne(fault))
            foreach (var one in events)
                Mark(one, fault);
        else
            fault = await OneByOneAsync(connection, events, cancel);
        live.Tell(new LiveEvent("system", connection.System.Id));
        return fault;
    }

    private async Task<Reason?> OneByOneAsync(Connection connection, List<HookEvent> events, CancellationToken cancel)
    {
        Reason? last = null;
        foreach (var one in events)
        {
            var fault = await TogetherAsync(connection, [one], cancel);
            Mark(one, fault);
            last = fault ?? last;
        }

        return last;
    }

    // A system that does not answer at all is not asked a thousand times over.
    private static bool MayLieInOne(Reason fault) =>
        fault.Code is FaultCodes.Rejected or FaultCodes.Conflict or FaultCodes.ServerError or "notFound" or "lookup.unkept" or Broke;

    private async Task<Reason?> TogetherAsync(Connection connection, List<HookEvent> events, CancellationToken cancel)
    {
        var touched = new RecordsTouched(connection.System.Id, events[0].Kind, [.. events.Select(e => e.RecordKey)]);
        try
        {
            return await RecordLookUp.ReadAsync(database, connection, touched, clock.GetUtcNow(), cancel);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return new Reason(Broke, $"Narbit made a mistake while it was read ({error.GetType().Name}: {error.Message.TrimEnd('.')}).");
        }
    }

    private void Mark(HookEvent one, Reason? fault)
    {
        if (fault is null)
            (one.ReadAt, one.Fault, one.NextAt) = (clock.GetUtcNow(), null, null);
        else
            Tried(one, fault);
    }

    private void Tried(HookEvent one, Reason fault)
    {
        one.Tries++;
        one.Fault = fault.Words;
        one.NextAt = one.Tries < Retries.Most ? clock.GetUtcNow() + Retries.After(one.Tries) : null;
        one.SetAsideAt = one.Tries < Retries.Most ? null : clock.GetUtcNow();
    }

    private async Task<Outcome<bool>> KeepAsync(
        NarbitContext db,
        string systemId,
        HookDescription hook,
        HookBody said,
        DateTimeOffset now,
        CancellationToken cancel
    )
    {
        if (await db.HookEvents.CountAsync(e => e.SystemId == systemId && e.ReadAt == null && e.SetAsideAt == null, cancel) >= MostWaiting)
            return new Reason("hook.tooMany", $"{MostWaiting:N0} webhooks wait to be read already; send it again later.");
        db.HookEvents.Add(
            new HookEvent
            {
                SystemId = systemId,
                EventId = said.Id,
                Kind = hook.Kind,
                RecordKey = said.Record,
                ReceivedAt = now,
            }
        );
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException error) when (Database.IsDuplicate(error))
        {
            return false;
        }

        _waiting.Writer.TryWrite(systemId);
        return true;
    }

    private IEnumerable<string> Secrets(ConnectedSystem system, DateTimeOffset now)
    {
        var kept = new[]
        {
            system.ProtectedHookSecret,
            now - system.HookSecretAt < SecretBeforeCounts ? system.ProtectedHookSecretBefore : null,
        };
        foreach (var one in kept.OfType<string>())
            if (vault.Open(one).ValueOrDefault is { } credential)
                yield return credential.Secret;
    }
}
