using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Adapters.Describing;
using Narbit.Adapters.Rest;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>Makes adapters, one for each revision of a system, so that all callers share its rate.</summary>
/// <param name="database">Where systems are kept.</param>
/// <param name="vault">Where credentials are opened.</param>
/// <param name="outbound">Which addresses may be connected to.</param>
/// <param name="clock">The time.</param>
public sealed class AdapterSource(Database database, ICredentialVault vault, OutboundPolicy outbound, TimeProvider clock) : IDisposable
{
    // Whoever began to work with an earlier revision may finish.
    private static readonly TimeSpan Grace = TimeSpan.FromMinutes(10);

    private readonly ConcurrentDictionary<(string Id, int Revision), Connection> _made = new();
    private readonly ConcurrentDictionary<Connection, ITimer> _retired = new();

    /// <summary>The adapter for a system, or why there is none.</summary>
    public async Task<Outcome<Connection>> ForAsync(string systemId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var system = await db.Systems.AsNoTracking().FirstOrDefaultAsync(s => s.Id == systemId, cancel);
        if (system is null)
            return new Reason("system.unknown", $"There is no system “{systemId}”.");
        if (_made.TryGetValue((system.Id, system.Revision), out var made))
            return made with { System = system };

        var credential = Known(system);
        var adapter = Make(system.Document, system.Address, credential);
        if (adapter.Fault is { } fault)
            return fault;
        var connection = new Connection(system, adapter.Value);
        var kept = _made.GetOrAdd((system.Id, system.Revision), connection);
        if (!ReferenceEquals(kept, connection))
            adapter.Value.Dispose();
        Retire(system.Id, system.Revision);
        return kept with { System = system };
    }

    /// <summary>The credentials of a system, with what was granted there; a fault where they cannot be opened; null: none.</summary>
    public Outcome<Credential>? Known(ConnectedSystem system)
    {
        if (system.ProtectedCredential is null)
            return null;
        var opened = vault.Open(system.ProtectedCredential);
        return opened.Fault is { } locked ? locked : opened.Value with { Grant = new KeptGrant(database, vault, system.Id) };
    }

    /// <summary>An adapter that is not kept, e.g. to test a system before it is saved; whoever asks for it disposes it.</summary>
    /// <param name="document">The description, JSON.</param>
    /// <param name="address">The address.</param>
    /// <param name="credential">The credential, or a fault where it cannot be opened.</param>
    public Outcome<IAdapter> Make(string document, string address, Outcome<Credential>? credential)
    {
        if (credential is { Fault: { } locked })
            return locked;
        var read = SystemDocument.Read(document);
        return read.Fault is { } unreadable ? unreadable : read.Value.Adapter(address, credential?.Value, outbound, clock);
    }

    /// <summary>Somebody who calls a system that is not described yet, or why its address cannot be used.</summary>
    /// <param name="known">What is known of it: its name, how to sign in.</param>
    /// <param name="address">The address.</param>
    /// <param name="credential">The credential, or null.</param>
    public Outcome<SystemProbe> Probe(RestDocument known, string address, Credential? credential)
    {
        var uri = outbound.Check(address);
        return uri.Fault is { } fault ? fault : new SystemProbe(known, uri.Value, credential, outbound, clock);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        foreach (var timer in _retired.Values)
            timer.Dispose();
        foreach (var connection in _made.Values.Concat(_retired.Keys))
            connection.Adapter.Dispose();
        _made.Clear();
        _retired.Clear();
    }

    private void Retire(string id, int newest)
    {
        foreach (var key in _made.Keys.Where(k => k.Id == id && k.Revision < newest))
            if (_made.TryRemove(key, out var old))
                _retired[old] = clock.CreateTimer(_ => Forget(old), null, Grace, Timeout.InfiniteTimeSpan);
    }

    private void Forget(Connection connection)
    {
        if (!_retired.TryRemove(connection, out var timer))
            return;
        timer.Dispose();
        connection.Adapter.Dispose();
    }
}
