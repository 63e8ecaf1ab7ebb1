using Microsoft.EntityFrameworkCore;
using Narbit.Core.Guarding;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>
/// A workspace as files: settings, descriptions of systems, lanes with their rules, maps, crosswalks and timetables, and pairs. Without
/// secrets, and without what was read, run and sent.
/// </summary>
/// <param name="database">Where it is kept.</param>
public sealed class WorkspaceExport(Database database)
{
    /// <summary>The files; none where nothing is set up yet.</summary>
    public async Task<WorkspaceFiles> FilesAsync(CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        var files = new Dictionary<string, string>(StringComparer.Ordinal);
        if (await new WorkspaceDesk(database).GetAsync(cancel) is { } settings)
            files[WorkspaceText.Workspace] = WorkspaceText.Write(await WorkspaceAsync(db, settings, cancel));
        foreach (var system in await db.Systems.AsNoTracking().ToListAsync(cancel))
            files[WorkspaceText.OfSystem(system.Id)] = WorkspaceText.Description(system.Document, system.Address);
        foreach (var lane in await db.Lanes.AsNoTracking().ToListAsync(cancel))
            files[WorkspaceText.OfLane(lane.Id)] = WorkspaceText.Write(await LaneAsync(db, lane, cancel));
        var lanes = (await db.Lanes.Select(l => l.Id).ToListAsync(cancel)).ToHashSet(StringComparer.Ordinal);
        foreach (var job in await JobsAsync(db, lanes, cancel))
            files[WorkspaceText.OfJob(job.Id)] = WorkspaceText.Write(
                new WorkspaceJob { Format = WorkspaceJob.CurrentFormat, Job = Present(JobJson.Of(job), lanes) }
            );
        foreach (var couple in await db.Couples.AsNoTracking().ToListAsync(cancel))
            await AddPairsAsync(db, couple, files, cancel);
        return WorkspaceFiles.Of(files);
    }

    // Nor is a job that has no other lanes.
    private static async Task<IReadOnlyList<Job>> JobsAsync(NarbitContext db, HashSet<string> lanes, CancellationToken cancel)
    {
        var jobs = await db.Jobs.AsNoTracking().Include(j => j.Lanes).ToListAsync(cancel);
        return [.. jobs.Where(j => j.Lanes.Exists(l => lanes.Contains(l.LaneId)))];
    }

    // A lane that was removed is in no file.
    private static JobDocument Present(JobDocument job, HashSet<string> lanes) =>
        job with
        {
            Lanes = [.. job.Lanes.Where(l => lanes.Contains(l.Lane))],
        };

    private static async Task<WorkspaceDocument> WorkspaceAsync(NarbitContext db, WorkspaceSettings settings, CancellationToken cancel)
    {
        var systems = await db.Systems.AsNoTracking().OrderBy(s => s.Id).ToListAsync(cancel);
        var off = await db.DaysOff.OrderBy(d => d.Date).Select(d => new WorkspaceDayOff(d.Date, d.Name)).ToListAsync(cancel);
        return new WorkspaceDocument
        {
            Format = WorkspaceDocument.CurrentFormat,
            Name = settings.Name,
            TimeZone = settings.TimeZone,
            Currency = settings.Currency,
            Country = settings.Country,
            Numbers = settings.Numbers,
            Dates = settings.Dates,
            FirstDay = settings.FirstDay,
            Hub = settings.HubId,
            DaysOff = off.Count == 0 ? null : off,
            AnonymiseAfterDays = await db.Workspaces.Select(w => w.AnonymiseAfterDays).FirstOrDefaultAsync(cancel),
            People = settings.People,
            Systems =
            [
                .. systems.Select(s => new WorkspaceSystem
                {
                    Id = s.Id,
                    MayRead = s.MayRead,
                    MayWrite = s.MayWrite,
                    ReadsWholeDaily = s.ReadsWholeDaily,
                    Paused = s.PausedAt is not null,
                }),
            ],
        };
    }

    private static async Task<WorkspaceLane> LaneAsync(NarbitContext db, Lane lane, CancellationToken cancel)
    {
        var rule = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == lane.Id && v.Number == lane.RuleNumber, cancel);
        return new WorkspaceLane
        {
            Format = WorkspaceLane.CurrentFormat,
            From = lane.SourceId,
            To = lane.TargetId,
            Name = lane.Name,
            SkuStartsWith = lane.SkuStartsWith,
            PublishedOnly = lane.PublishedOnly,
            KeptOff = await db
                .KeptOff.Where(k => k.LaneId == lane.Id)
                .OrderBy(k => k.SourceKey)
                .Select(k => k.SourceKey)
                .ToListAsync(cancel),
            Paused = lane.Paused,
            Off = lane.Off,
            Note = rule.Note,
            Document = LaneJson.Read(rule.Document).Value,
            Guards = rule.Guards is null ? null : GuardLimits.Read(rule.Guards).ValueOrDefault,
        };
    }

    // A pairing that nobody has touched says nothing.
    private static async Task AddPairsAsync(NarbitContext db, Couple couple, Dictionary<string, string> files, CancellationToken cancel)
    {
        var lines = await LinesAsync(db, couple.Id, cancel);
        if (lines.Count == 0 && couple is { AcceptsCertain: false, Way: null, HabitBefore: null, HabitAfter: null })
            return;
        var file = WorkspaceText.OfPairs(couple.Kind, couple.HubId, couple.OtherId);
        files[file] = WorkspaceText.Write(
            new WorkspacePairs
            {
                Format = WorkspacePairs.CurrentFormat,
                Kind = couple.Kind,
                Hub = couple.HubId,
                Other = couple.OtherId,
                AcceptsCertain = couple.AcceptsCertain,
                Way = couple.Way,
                HabitBefore = couple.HabitBefore,
                HabitAfter = couple.HabitAfter,
            }
        );
        files[WorkspaceText.TableBeside(file)] = WorkspaceText.WriteLines(lines);
    }

    /// <summary>
    /// What is decided of a pairing, by the hub's records; those that share one stay in the order in which they were linked, since the
    /// first speaks for it.
    /// </summary>
    internal static async Task<IReadOnlyList<WorkspacePairLine>> LinesAsync(NarbitContext db, long coupleId, CancellationToken cancel)
    {
        var links = await db.Links.AsNoTracking().Where(l => l.CoupleId == coupleId).OrderBy(l => l.Id).ToListAsync(cancel);
        var asides = await db.SetAsides.AsNoTracking().Where(a => a.CoupleId == coupleId).OrderBy(a => a.Id).ToListAsync(cancel);
        var linked = links.Select(l => new WorkspacePairLine(
            l.HubKey,
            l.OtherKey,
            l.IsKit ? PairLineKind.Part : PairLineKind.Pair,
            l.Quantity,
            null
        ));
        var aside = asides.Select(a => new WorkspacePairLine(
            a.HubKey,
            a.OtherKey,
            a.ToCreate ? PairLineKind.Create : PairLineKind.Aside,
            1,
            a.Reason
        ));
        return
        [
            .. linked.OrderBy(l => l.HubKey, StringComparer.Ordinal),
            .. aside.OrderBy(a => a.HubKey, StringComparer.Ordinal).ThenBy(a => a.OtherKey, StringComparer.Ordinal),
        ];
    }
}
