using Microsoft.EntityFrameworkCore;
using Narbit.Adapters;
using Narbit.Data;
using Narbit.Data.Systems;

namespace Narbit.Engine.Systems;

/// <summary>The keys of servers that were met, kept with everything else: a server that shows another is not talked to.</summary>
/// <param name="database">Where they are kept.</param>
/// <param name="clock">The time.</param>
public sealed class KeptHostKeys(Database database, TimeProvider clock) : IHostKeys
{
    /// <inheritdoc/>
    public string? Known(string server)
    {
        using var db = database.CreateDbContext();
        return db.MetServers.AsNoTracking().FirstOrDefault(s => s.Server == server)?.Fingerprint;
    }

    /// <inheritdoc/>
    public void Learn(string server, string fingerprint)
    {
        using var db = database.CreateDbContext();
        if (db.MetServers.Any(s => s.Server == server))
            return;
        db.MetServers.Add(
            new MetServer
            {
                Server = server,
                Fingerprint = fingerprint,
                MetAt = clock.GetUtcNow(),
            }
        );
        db.SaveChanges();
    }

    /// <summary>Forgets a server's key, so that the one it shows next counts.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> ForgetAsync(string server, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return await db.MetServers.Where(s => s.Server == server).ExecuteDeleteAsync(cancel) > 0;
    }
}
