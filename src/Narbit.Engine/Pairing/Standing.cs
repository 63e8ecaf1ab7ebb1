using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>What is decided of two systems: the links in force and what is set aside.</summary>
public sealed class Standing
{
    private readonly HashSet<string> _hub;
    private readonly HashSet<string> _other;

    private Standing(IReadOnlyList<PairLink> links, IReadOnlyList<SetAside> asides)
    {
        (Links, SetAsides) = (links, asides);
        _hub = [.. links.Where(l => !l.IsKit).Select(l => l.HubKey), .. asides.Where(a => a.HubKey is not null).Select(a => a.HubKey!)];
        _other = [.. links.Select(l => l.OtherKey), .. asides.Where(a => a.OtherKey is not null).Select(a => a.OtherKey!)];
    }

    /// <summary>The links.</summary>
    public IReadOnlyList<PairLink> Links { get; }

    /// <summary>The records without partner on purpose.</summary>
    public IReadOnlyList<SetAside> SetAsides { get; }

    /// <summary>Loads what is decided.</summary>
    public static async Task<Standing> LoadAsync(Database database, long coupleId, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return new Standing(
            await db.Links.AsNoTracking().Where(l => l.CoupleId == coupleId).ToListAsync(cancel),
            await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == coupleId).ToListAsync(cancel)
        );
    }

    /// <summary>Whether a hub record is linked or set aside. One that is only part of a kit is free.</summary>
    public bool HubTaken(string key) => _hub.Contains(key);

    /// <summary>Whether a record of the other side is linked or set aside.</summary>
    public bool OtherTaken(string key) => _other.Contains(key);
}
