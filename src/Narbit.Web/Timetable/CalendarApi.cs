using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;

namespace Narbit.Web.Timetable;

/// <summary>The coming turns as a calendar (RFC 5545), for calendars that people have open anyway.</summary>
internal static class CalendarApi
{
    private const int Days = 14;

    // A calendar of a job that runs every minute helps nobody; so many times of each are told.
    private const int MostOfEach = 100;

    public static void Map(IEndpointRouteBuilder app) => app.MapGet("/calendar/jobs.ics", GetAsync).ExcludeFromDescription();

    private static async Task<IResult> GetAsync(Database database, TimeProvider clock, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var now = clock.GetUtcNow();
        var views = await JobViews.OpenAsync(db, now, cancel);
        var calendar = new Calendar { ProductId = "-//Narbit//Timetable//EN" };
        foreach (var job in await db.Jobs.AsNoTracking().Include(j => j.Lanes).OrderBy(j => j.Name).ToListAsync(cancel))
        {
            var lanes = string.Join("\n", job.Lanes.OrderBy(l => l.Place).Select(l => views.NameOf(l.LaneId)));
            foreach (var at in views.Coming(job).TakeWhile(t => t < now.AddDays(Days)).Take(MostOfEach))
                calendar.Events.Add(
                    new CalendarEvent
                    {
                        Uid = $"{job.Id}-{at.UtcDateTime:yyyyMMdd'T'HHmmss'Z'}@narbit",
                        DtStamp = new CalDateTime(now.UtcDateTime, "UTC"),
                        Start = new CalDateTime(at.UtcDateTime, "UTC"),
                        Duration = Duration.FromMinutes(1),
                        Summary = job.Name,
                        Description = lanes,
                    }
                );
        }

        return TypedResults.Text(new CalendarSerializer().SerializeToString(calendar), "text/calendar");
    }
}
