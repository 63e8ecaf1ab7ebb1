using Microsoft.EntityFrameworkCore;
using Narbit.Core.Pairing;
using Narbit.Core.Records;
using Narbit.Data;
using Narbit.Data.Pairs;

namespace Narbit.Engine.Pairing;

/// <summary>Couples of systems whose records are paired.</summary>
public static class CoupleOf
{
    /// <summary>The couple, made where it is not there yet.</summary>
    public static async Task<Couple> EnsureAsync(Database database, string hubId, string otherId, RecordKind kind, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        if (
            await db.Couples.AsNoTracking().FirstOrDefaultAsync(c => c.HubId == hubId && c.OtherId == otherId && c.Kind == kind, cancel) is
            { } found
        )
            return found;
        var couple = new Couple
        {
            HubId = hubId,
            OtherId = otherId,
            Kind = kind,
        };
        db.Couples.Add(couple);
        try
        {
            await db.SaveChangesAsync(cancel);
            return couple;
        }
        catch (DbUpdateException error) when (Database.IsDuplicate(error))
        {
            db.ChangeTracker.Clear();
            return await db.Couples.AsNoTracking().FirstAsync(c => c.HubId == hubId && c.OtherId == otherId && c.Kind == kind, cancel);
        }
    }

    /// <summary>How the other system writes SKUs, where that was accepted as a rule.</summary>
    public static SkuHabit? Habit(Couple couple) =>
        string.IsNullOrEmpty(couple.HabitBefore) && string.IsNullOrEmpty(couple.HabitAfter)
            ? null
            : new SkuHabit(couple.HabitBefore ?? "", couple.HabitAfter ?? "");
}
