using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Data;

namespace Narbit.Engine.Systems;

/// <summary>
/// Requests to people to grant Narbit access at systems. What is granted before a system is added is known as long as the program runs, and
/// kept with the system once it is added.
/// </summary>
/// <param name="database">Where systems are kept.</param>
/// <param name="vault">Where what was granted is encrypted.</param>
/// <param name="outbound">What may be reached.</param>
/// <param name="clock">The time.</param>
public sealed class GrantDesk(Database database, ICredentialVault vault, OutboundPolicy outbound, TimeProvider clock)
{
    private static readonly TimeSpan Patience = TimeSpan.FromHours(1);
    private readonly ConcurrentDictionary<string, Asked> _asked = new(StringComparer.Ordinal);

    /// <summary>Begins a request.</summary>
    /// <param name="document">How the system signs callers in.</param>
    /// <param name="address">Its address.</param>
    /// <param name="client">The client's name and secret.</param>
    /// <param name="systemId">The system that it is for; null: it is not added yet.</param>
    /// <param name="back">Where the person comes back to.</param>
    public Outcome<GrantBegun> Begin(RestDocument document, string address, Credential client, string? systemId, Uri back)
    {
        foreach (var (old, asked) in _asked)
            if (clock.GetUtcNow() - asked.At > Patience)
                _asked.TryRemove(old, out _);
        var uri = outbound.Check(address);
        if (uri.Fault is { } unusable)
            return unusable;
        var request = AccessRequest.Of(document, uri.Value, client.User, back);
        if (request.Fault is { } fault)
            return fault;
        var id = Guid.NewGuid().ToString("N");
        _asked[id] = new Asked(request.Value, client, systemId, clock.GetUtcNow());
        return new GrantBegun(id, request.Value.Address.AbsoluteUri);
    }

    /// <summary>How a request stands; null: there is none.</summary>
    public GrantStanding? Standing(string id) => _asked.TryGetValue(id, out var asked) ? new GrantStanding(asked.State, asked.Why) : null;

    /// <summary>What was granted before its system was added; null: nothing.</summary>
    public IGrant? Of(string id) => _asked.TryGetValue(id, out var asked) && asked.State == GrantState.Given ? asked : null;

    /// <summary>Redeems what a person came back with.</summary>
    /// <param name="state">Which request it answers.</param>
    /// <param name="code">The code; null: access was not granted.</param>
    /// <param name="refusal">What was said instead.</param>
    /// <param name="cancel">Gives up.</param>
    /// <returns>Why it cannot be redeemed; null: access is granted.</returns>
    public async Task<Reason?> RedeemAsync(string state, string? code, string? refusal, CancellationToken cancel)
    {
        var asked = _asked.Values.FirstOrDefault(a => a.Request.State == state && a.State == GrantState.Open);
        if (asked is null)
            return new Reason("grant.unknown", "This answer belongs to no request that is open. Begin again where the sign-in is entered.");
        if (code is not { Length: > 0 })
            return asked.Fail(
                new Reason("grant.refused", $"Access was not granted{(refusal is null ? "" : $": {refusal}")}. Nothing was changed.")
            );
        var kept = await asked.Request.RedeemAsync(code, asked.Client, outbound, clock, cancel);
        if (kept.Fault is { } fault)
            return asked.Fail(fault);
        asked.Give(kept.Value);
        if (asked.SystemId is { } id)
            await KeepAsync(id, kept.Value, cancel);
        return null;
    }

    // The new revision makes a new adapter, which fetches its tokens afresh.
    private async Task KeepAsync(string systemId, string kept, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await db
            .Systems.Where(s => s.Id == systemId)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(x => x.ProtectedGrant, vault.Protect(new Credential(null, kept)))
                        .SetProperty(x => x.GrantedAt, clock.GetUtcNow())
                        .SetProperty(x => x.GrantLostWhy, (string?)null)
                        .SetProperty(x => x.Revision, x => x.Revision + 1),
                cancel
            );
    }

    // A request, and what was granted by it as long as its system is not added.
    private sealed class Asked(AccessRequest request, Credential client, string? systemId, DateTimeOffset at) : IGrant
    {
        public AccessRequest Request { get; } = request;

        public Credential Client { get; } = client;

        public string? SystemId { get; } = systemId;

        public DateTimeOffset At { get; } = at;

        public GrantState State { get; private set; }

        public Reason? Why { get; private set; }

        public string? Kept { get; private set; }

        public void Give(string kept) => (State, Kept) = (GrantState.Given, kept);

        public Reason Fail(Reason why)
        {
            (State, Why) = (GrantState.Failed, why);
            return why;
        }

        public void Renewed(string kept) => Kept = kept;

        public SemaphoreSlim Turn { get; } = new(1, 1);

        public void Lost(string refused, string why) => Kept = Kept == refused ? null : Kept;
    }
}

/// <summary>What a person has granted at a system, kept encrypted with it.</summary>
/// <param name="database">Where systems are kept.</param>
/// <param name="vault">Where it is encrypted.</param>
/// <param name="systemId">The system.</param>
internal sealed class KeptGrant(Database database, ICredentialVault vault, string systemId) : IGrant
{
    public string? Kept
    {
        get
        {
            using var db = database.CreateDbContext();
            var kept = db.Systems.Where(s => s.Id == systemId && s.GrantLostWhy == null).Select(s => s.ProtectedGrant).FirstOrDefault();
            return kept is null ? null : vault.Open(kept).ValueOrDefault?.Secret;
        }
    }

    public void Renewed(string kept)
    {
        var protectedGrant = vault.Protect(new Credential(null, kept));
        using var db = database.CreateDbContext();
        db.Systems.Where(s => s.Id == systemId).ExecuteUpdate(s => s.SetProperty(x => x.ProtectedGrant, protectedGrant));
    }

    private static readonly ConcurrentDictionary<(string Database, string System), SemaphoreSlim> Turns = new();

    public SemaphoreSlim Turn => Turns.GetOrAdd((database.Path, systemId), _ => new SemaphoreSlim(1, 1));

    public void Lost(string refused, string why)
    {
        if (Kept != refused)
            return;
        using var db = database.CreateDbContext();
        db.Systems.Where(s => s.Id == systemId).ExecuteUpdate(s => s.SetProperty(x => x.GrantLostWhy, why));
    }
}
