using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>
/// Takes the files of a workspace in, all of them or nothing. It adds and changes; what the files do not have stays, so that nobody
/// removes a lane by forgetting a file.
/// </summary>
/// <param name="database">Where the workspace is.</param>
/// <param name="clock">The time.</param>
public sealed class WorkspaceImport(Database database, TimeProvider clock)
{
    private readonly WorkspaceExport _export = new(database);

    /// <summary>Says what taking files in would do.</summary>
    public async Task<WorkspaceReport> LookAsync(WorkspaceFiles files, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        return (await LookAsync(db, files, cancel)).Report;
    }

    /// <summary>Takes files in.</summary>
    /// <param name="files">The files.</param>
    /// <param name="basis">What was looked at, see <see cref="WorkspaceReport.Basis"/>; null: whatever there is.</param>
    /// <param name="cancel">Gives up; nothing is taken in then.</param>
    /// <returns>What has changed; or why nothing has: <c>workspace.faulty</c>, <c>workspace.changed</c>.</returns>
    public async Task<Outcome<WorkspaceReport>> TakeAsync(WorkspaceFiles files, string? basis, CancellationToken cancel)
    {
        await using var db = database.CreateDbContext();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var (report, content) = await LookAsync(db, files, cancel);
        if (report.Faults is [var first, ..])
            return new Reason(
                "workspace.faulty",
                $"Nothing was taken in. {first.File}{(first.Line is { } line ? $", line {line}" : "")}: {first.Words}"
            );
        if (basis is not null && basis != report.Basis)
            return new Reason(
                "workspace.changed",
                "The files or the workspace changed since you looked. Nothing was taken in; look at what would change now."
            );
        // Where nothing is set up yet, it is whoever the files name first.
        var by = await db.Workspaces.Select(w => w.Person).FirstOrDefaultAsync(cancel) ?? content.Settings(null).Person;
        await new WorkspaceTaking(db, content, by, clock.GetUtcNow()).TakeAsync(cancel);
        await transaction.CommitAsync(cancel);
        return report;
    }

    private async Task<(WorkspaceReport Report, WorkspaceContent Content)> LookAsync(
        NarbitContext db,
        WorkspaceFiles files,
        CancellationToken cancel
    )
    {
        var now = await _export.FilesAsync(cancel);
        var content = WorkspaceContent.Of(files);
        var faults = content.Faults.ToList();
        if (content.Workspace is not null)
            await AgainstAsync(db, content, faults, cancel);
        var report = new WorkspaceReport
        {
            Basis = $"{now.Fingerprint}-{files.Fingerprint}",
            Faults = faults,
            Changes = faults.Count > 0 ? [] : new WorkspaceChanges(now, files).Of(content),
            Means = faults.Count > 0 ? [] : await MeaningAsync(db, content, cancel),
            Stays = faults.Count > 0 ? [] : Staying(now, files),
        };
        return (report, content);
    }

    private async Task<IReadOnlyList<string>> MeaningAsync(NarbitContext db, WorkspaceContent content, CancellationToken cancel)
    {
        var means = (await new WorkspaceDesk(database).EffectAsync(content.Settings(null), cancel)).ToList();
        foreach (var system in await db.Systems.AsNoTracking().Where(s => s.ProtectedCredential != null).ToListAsync(cancel))
            if (
                content.Systems.FirstOrDefault(s => s.Rights.Id == system.Id) is { Document: var document }
                && SystemOrigin.LeadsElsewhere(system, document, document.Address)
            )
                means.Add(
                    $"{system.Name} would be called at another place, {document.SignInAddress ?? document.Address}: its credentials are "
                        + "forgotten, so that nobody else gets them, and entered anew."
                );
        means.AddRange(await LeavingAsync(db, content, cancel));
        return means;
    }

    // A lane is in one job, so it leaves the one that the files say nothing of.
    private static async Task<IReadOnlyList<string>> LeavingAsync(NarbitContext db, WorkspaceContent content, CancellationToken cancel)
    {
        var wanted = content.Jobs.SelectMany(j => j.Value.Lanes, (j, l) => (Job: j.Key, l.Lane)).ToList();
        var names = await db.Jobs.AsNoTracking().ToDictionaryAsync(j => j.Id, j => j.Name, cancel);
        var kept = await db.JobLanes.AsNoTracking().ToListAsync(cancel);
        return
        [
            .. kept.Where(k => names.ContainsKey(k.JobId) && !content.Jobs.ContainsKey(k.JobId))
                .Where(k => wanted.Exists(w => w.Lane == k.LaneId && w.Job != k.JobId))
                .Select(k => $"The lane “{k.LaneId}” leaves the job “{names[k.JobId]}”: a lane is in one job only."),
        ];
    }

    private static List<string> Staying(WorkspaceFiles now, WorkspaceFiles files)
    {
        var stays = now
            .All.Keys.Where(f => files[f] is null && !f.EndsWith(".csv", StringComparison.Ordinal))
            .Select(f => $"{f} is not among the files; what it holds stays")
            .ToList();
        foreach (var (path, _, text) in now.In("pairs/", ".csv"))
            if (files[path] is { } table)
            {
                var wanted = WorkspaceText.ReadPairs(path, table, []).Select(l => l.Line).ToHashSet();
                var more = WorkspaceText.ReadPairs(path, text, []).Count(l => !wanted.Contains(l.Line));
                if (more > 0)
                    stays.Add($"{path}: what is decided here and not in it stays ({more.ToString("N0", CultureInfo.InvariantCulture)})");
            }

        return stays;
    }

    // What the workspace has stands in the way of some files.
    private static async Task AgainstAsync(
        NarbitContext db,
        WorkspaceContent content,
        List<WorkspaceFault> faults,
        CancellationToken cancel
    )
    {
        var systems = await db.Systems.IgnoreQueryFilters().AsNoTracking().ToListAsync(cancel);
        foreach (var system in content.Systems)
        {
            var file = WorkspaceText.OfSystem(system.Rights.Id);
            if (systems.Find(s => s.Id == system.Rights.Id) is { RemovedAt: not null })
                faults.Add(
                    new WorkspaceFault(file, null, "the system was removed here; bring it back first, or give this one another name")
                );
            else if (systems.Find(s => s.Mark == system.Document.Mark && s.Id != system.Rights.Id) is { } other)
                faults.Add(new WorkspaceFault(file, null, $"the mark {system.Document.Mark} is that of {other.Name} here"));
        }

        var lanes = await db.Lanes.IgnoreQueryFilters().AsNoTracking().ToListAsync(cancel);
        foreach (var (id, lane) in content.Lanes)
        {
            var kind = Lanes.LaneWorks.Of(lane.Document).Kind;
            var file = WorkspaceText.OfLane(id);
            var mine = lanes.Find(l => l.Id == id);
            if (mine is { RemovedAt: not null })
                faults.Add(new WorkspaceFault(file, null, "the lane was removed here; bring it back first, or give this one another name"));
            else if (mine is not null && (mine.Kind, mine.SourceId, mine.TargetId) != (kind, lane.From, lane.To))
                faults.Add(new WorkspaceFault(file, null, "the lane of this name does other work here; give this one another name"));
            else if (
                mine is null
                && lanes.Exists(l => l.RemovedAt is null && (l.Kind, l.SourceId, l.TargetId) == (kind, lane.From, lane.To))
            )
                faults.Add(new WorkspaceFault(file, null, $"the same flows from {lane.From} to {lane.To} here already, by another lane"));
        }

        var missing = content.Jobs.SelectMany(j => j.Value.Lanes, (j, l) => (Job: j.Key, l.Lane)).Where(l => !IsThere(l.Lane));
        foreach (var (job, lane) in missing)
            faults.Add(new WorkspaceFault(WorkspaceText.OfJob(job), null, $"there is no lane “{lane}”"));
        foreach (var pairs in content.Pairs)
            await AgainstAsync(db, pairs, faults, cancel);

        bool IsThere(string lane) => content.Lanes.ContainsKey(lane) || lanes.Exists(l => l.Id == lane && l.RemovedAt is null);
    }

    private static async Task AgainstAsync(NarbitContext db, DescribedPairs pairs, List<WorkspaceFault> faults, CancellationToken cancel)
    {
        var how = pairs.Pairs;
        var couple = await db
            .Couples.AsNoTracking()
            .FirstOrDefaultAsync(c => c.Kind == how.Kind && c.HubId == how.Hub && c.OtherId == how.Other, cancel);
        if (couple is null)
            return;
        var here = await WorkspaceExport.LinesAsync(db, couple.Id, cancel);
        var known = here.ToHashSet();
        var linked = here.Where(l => l.What is PairLineKind.Pair or PairLineKind.Part).ToList();
        var byOther = linked.ToLookup(l => l.OtherKey!, StringComparer.Ordinal);
        var byHub = linked.Where(l => l.What == PairLineKind.Pair).ToLookup(l => l.HubKey!, StringComparer.Ordinal);
        foreach (var (number, line) in pairs.Lines.Where(l => !known.Contains(l.Line)))
        {
            var otherwise = line.OtherKey is { } other ? byOther[other] : byHub[line.HubKey!];
            foreach (var mine in otherwise.Take(1))
                faults.Add(
                    new WorkspaceFault(
                        WorkspaceText.TableBeside(pairs.File),
                        number,
                        $"here {WorkspaceChanges.Said(mine)}; unpair it first, or take the line out"
                    )
                );
        }
    }
}
