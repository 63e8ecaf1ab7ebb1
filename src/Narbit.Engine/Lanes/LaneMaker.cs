using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Data;
using Narbit.Data.Lanes;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Lanes;

/// <summary>Makes lanes and saves what they go by.</summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="clock">The time.</param>
public sealed class LaneMaker(Database database, AdapterSource adapters, TimeProvider clock)
{
    // A kind of work between two systems that it fits.
    private sealed record Fit(LaneWork Work, LaneSides Sides, string SourceId, string TargetId);

    // What a lane begins with.
    private sealed record Beginning(LaneDocument Document, string? Guards, string Note);

    /// <summary>Makes a lane between two systems, by hand and with the document that its kind begins with.</summary>
    /// <returns>The lane's short name, or why there can be no such lane.</returns>
    public async Task<Outcome<string>> MakeAsync(string kind, string sourceId, string targetId, string by, CancellationToken cancel)
    {
        var found = await FitAsync(kind, sourceId, targetId, cancel);
        if (found.Fault is { } unfit)
            return unfit;
        var work = found.Value.Work;
        var document = work.Computing.Begin(work.Computing.Blank(found.Value.Sides)!, clock.GetUtcNow());
        return await AddAsync(found.Value, new Beginning(document, null, "as it begins"), null, by, cancel);
    }

    /// <summary>
    /// Makes a lane like another one: with its rule, map, crosswalks, guards and scope, by hand, between the same systems turned round or
    /// between others. What does not fit the other systems is said on its steps.
    /// </summary>
    /// <returns>The lane's short name, or why there can be no such lane.</returns>
    public async Task<Outcome<string>> CopyAsync(string laneId, string sourceId, string targetId, string by, CancellationToken cancel)
    {
        Lane? like;
        RuleVersion version;
        await using (var db = database.CreateDbContext())
        {
            like = await db.Lanes.AsNoTracking().FirstOrDefaultAsync(l => l.Id == laneId, cancel);
            if (like is null)
                return new Reason("lane.unknown", $"There is no lane “{laneId}”.");
            version = await db.RuleVersions.AsNoTracking().FirstAsync(v => v.LaneId == laneId && v.Number == like.RuleNumber, cancel);
        }

        var read = LaneJson.Read(version.Document);
        if (read.Fault is { } unreadable)
            return unreadable;
        var found = await FitAsync(like.Kind, sourceId, targetId, cancel);
        if (found.Fault is { } unfit)
            return unfit;
        var work = found.Value.Work;
        var note = $"as {like.Name ?? work.Label} to {like.TargetId} had it in version {version.Number}";
        return await AddAsync(
            found.Value,
            new Beginning(work.Computing.Begin(read.Value, clock.GetUtcNow()), version.Guards, note),
            like,
            by,
            cancel
        );
    }

    private async Task<Outcome<Fit>> FitAsync(string kind, string sourceId, string targetId, CancellationToken cancel)
    {
        if (LaneWorks.Between.FirstOrDefault(w => w.Kind == kind) is not { } work)
            return new Reason("lane.noKind", $"“{kind}” is none of {string.Join(", ", LaneWorks.Between.Select(w => w.Kind))}.");
        if (sourceId == targetId)
            return new Reason("lane.oneSystem", "A lane needs two systems; choose another to flow to.");
        var source = await adapters.ForAsync(sourceId, cancel);
        if (source.Fault is { } noSource)
            return noSource;
        var target = await adapters.ForAsync(targetId, cancel);
        if (target.Fault is { } noTarget)
            return noTarget;
        var sides = LaneSides.Of(work.Record, source.Value, target.Value);
        return (work.Computing.Unfit(sides) ?? Lacking(sides)) is { } unfit ? unfit : new Fit(work, sides, sourceId, targetId);
    }

    private async Task<Outcome<string>> AddAsync(Fit fit, Beginning beginning, Lane? like, string by, CancellationToken cancel)
    {
        var (work, sides, sourceId, targetId) = fit;
        await using var db = database.CreateDbContext();
        if (await db.Lanes.AnyAsync(l => l.Kind == work.Kind && l.SourceId == sourceId && l.TargetId == targetId, cancel))
            return new Reason("lane.exists", $"{work.Label} flow from {sides.SourceName} to {sides.TargetName} already.");
        var id = await FreeIdAsync(db, $"{work.Label.Split(' ')[0].ToLowerInvariant()}-{sourceId}-{targetId}", cancel);
        db.Lanes.Add(
            new Lane
            {
                Id = id,
                Kind = work.Kind,
                SourceId = sourceId,
                TargetId = targetId,
                SkuStartsWith = like?.SkuStartsWith,
                PublishedOnly = like?.PublishedOnly ?? false,
                RuleNumber = 1,
            }
        );
        db.RuleVersions.Add(
            new RuleVersion
            {
                LaneId = id,
                Number = 1,
                Document = LaneJson.Write(beginning.Document),
                Guards = beginning.Guards,
                Author = by,
                At = clock.GetUtcNow(),
                Note = beginning.Note,
            }
        );
        await db.SaveChangesAsync(cancel);
        return id;
    }

    /// <summary>Saves a version on top of the one that it was made from; on top of another it is refused.</summary>
    public async Task<Outcome<RuleVersion>> SaveAsync(OpenLane lane, VersionToSave save, string by, CancellationToken cancel)
    {
        var id = lane.Lane.Id;
        await using var db = database.CreateDbContext();
        var version = new RuleVersion
        {
            LaneId = id,
            Number = save.BaseNumber + 1,
            Document = LaneJson.Write(save.Document),
            Guards = save.Guards is null ? lane.Rule.Guards : RuleJson.Write(save.Guards),
            Author = by,
            At = clock.GetUtcNow(),
            Note = string.IsNullOrWhiteSpace(save.Note) ? null : save.Note.Trim(),
            DeskActId = save.DeskActId,
        };
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var moved = await db
            .Lanes.Where(l => l.Id == id && l.RuleNumber == save.BaseNumber)
            .ExecuteUpdateAsync(s => s.SetProperty(l => l.RuleNumber, version.Number), cancel);
        if (moved == 0)
            return await ChangedAsync(db, id, cancel);
        db.RuleVersions.Add(version);
        await db.SaveChangesAsync(cancel);
        // What was a draft is a version now.
        await db.Drafts.Where(d => d.LaneId == id && d.Person == by).ExecuteDeleteAsync(cancel);
        await transaction.CommitAsync(cancel);
        return version;
    }

    private static Reason? Lacking(LaneSides sides) =>
        sides.Source.Fields.Count == 0
            ? new Reason("lane.noRecords", $"{sides.SourceName} describes no such records, so nothing can flow from it.")
        : sides.Target.Fields.Count == 0
            ? new Reason("lane.noRecords", $"{sides.TargetName} describes no such records, so nothing can flow to it.")
        : null;

    private static async Task<string> FreeIdAsync(NarbitContext db, string wanted, CancellationToken cancel)
    {
        var taken = await db.Lanes.IgnoreQueryFilters().Where(l => l.Id.StartsWith(wanted)).Select(l => l.Id).ToListAsync(cancel);
        return Enumerable.Range(1, taken.Count + 1).Select(n => n == 1 ? wanted : $"{wanted}-{n}").First(id => !taken.Contains(id));
    }

    private static async Task<Reason> ChangedAsync(NarbitContext db, string laneId, CancellationToken cancel)
    {
        var current = await db
            .RuleVersions.AsNoTracking()
            .Where(v => v.LaneId == laneId)
            .OrderByDescending(v => v.Number)
            .FirstAsync(cancel);
        var note = current.Note is null ? "" : $", “{current.Note}”";
        return new Reason(
            "rule.changed",
            $"This rule was saved in another window meanwhile: version {current.Number} by {current.Author}{note}. Nothing of yours was "
                + "saved. Reload to see it; your entries stay here until you do."
        );
    }
}
