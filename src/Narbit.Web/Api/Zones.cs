using Microsoft.EntityFrameworkCore;
using Narbit.Data;

namespace Narbit.Web.Api;

/// <summary>The days of the workspace's own time zone.</summary>
public static class Zones
{
    /// <summary>The workspace's zone; UTC where it has none that is known here.</summary>
    public static async Task<TimeZoneInfo> OfWorkspaceAsync(NarbitContext db, CancellationToken cancel)
    {
        var id = await db.Workspaces.Select(w => w.TimeZone).FirstOrDefaultAsync(cancel);
        return id is not null && TimeZoneInfo.TryFindSystemTimeZoneById(id, out var zone) ? zone : TimeZoneInfo.Utc;
    }

    /// <summary>The first instant of a day.</summary>
    public static DateTimeOffset Midnight(DateOnly day, TimeZoneInfo zone) => Instant(day.ToDateTime(TimeOnly.MinValue), zone);

    /// <summary>The instant at which a clock in a zone shows a time; of an hour that comes twice, the second.</summary>
    public static DateTimeOffset Instant(DateTime shown, TimeZoneInfo zone)
    {
        var local = DateTime.SpecifyKind(shown, DateTimeKind.Unspecified);
        return new DateTimeOffset(local, zone.GetUtcOffset(local)).ToUniversalTime();
    }
}
