using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Narbit.Data;
using Narbit.Data.Runs;
using Narbit.Engine.Systems;

namespace Narbit.Web.Runs;

/// <summary>A record that some run sent.</summary>
/// <param name="Write">The write.</param>
/// <param name="RunId">The run.</param>
/// <param name="LaneName">What its lane moves.</param>
/// <param name="Written">The system that it was sent to.</param>
/// <param name="SentAt">When.</param>
internal sealed record WrittenRow(WriteRow Write, long RunId, string LaneName, SystemTag Written, DateTimeOffset SentAt);

/// <summary>What was sent, over all lanes and runs.</summary>
internal static class WrittenApi
{
    public static void Map(RouteGroupBuilder api) => api.MapGet("/written", ListAsync).WithName("listWritten").WithTags("Runs");

    /// <summary>What was sent since an instant and was confirmed, or did not get there.</summary>
    public static IQueryable<PlannedWrite> Of(NarbitContext db, string? show, DateTimeOffset? since)
    {
        var sent = db.Writes.AsNoTracking().Where(w => w.SentAt != null && (since == null || w.SentAt >= since));
        return show switch
        {
            "confirmed" => sent.Where(w => w.State == WriteState.Confirmed),
            "failed" => sent.Where(w => w.State == WriteState.Failed || w.State == WriteState.Overtaken),
            _ => sent,
        };
    }

    /// <summary>Reads writes in the order in which they are named: those that are passed over on the way to a page are not read.</summary>
    public static async Task<IEnumerable<PlannedWrite>> ReadAsync(NarbitContext db, IQueryable<long> wanted, CancellationToken cancel)
    {
        var ids = await wanted.ToListAsync(cancel);
        var read = await db
            .Writes.AsNoTracking()
            .Include(w => w.Fields)
            .Where(w => ids.Contains(w.Id))
            .ToDictionaryAsync(w => w.Id, cancel);
        return ids.Where(read.ContainsKey).Select(id => read[id]);
    }

    private static async Task<Ok<Slice<WrittenRow>>> ListAsync(
        string? show,
        DateTimeOffset? from,
        string? search,
        int? offset,
        int? limit,
        Database database,
        CancellationToken cancel
    )
    {
        var window = new Window(offset, limit);
        await using var db = database.CreateDbContext();
        var writes = Of(db, show, from);
        if (!string.IsNullOrWhiteSpace(search))
        {
            var like = Window.Like(search);
            writes = writes.Where(w => EF.Functions.Like(w.Reference!, like, "\\") || EF.Functions.Like(w.Caption!, like, "\\"));
        }

        var total = await writes.CountAsync(cancel);
        var newest = writes.OrderByDescending(w => w.SentAt).ThenByDescending(w => w.Id).Select(w => w.Id);
        var page = (await ReadAsync(db, newest.Skip(window.From).Take(window.Size), cancel)).ToList();
        var ids = page.Select(w => w.RunId).Distinct().ToList();
        var runs = await db.Runs.AsNoTracking().Where(r => ids.Contains(r.Id)).ToListAsync(cancel);
        var summaries = (await RunViews.AllAsync(db, runs, cancel)).ToDictionary(r => r.Id);
        return TypedResults.Ok(new Slice<WrittenRow>(total, window.From, [.. page.Select(w => Row(w, summaries[w.RunId]))]));
    }

    private static WrittenRow Row(PlannedWrite write, RunSummary run) =>
        new(WriteRow.Of(write), run.Id, run.LaneName, write.Way == Core.Records.Way.There ? run.Target : run.Source, write.SentAt!.Value);
}
