using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Guarding;
using Narbit.Core.Pairing;
using Narbit.Data;
using Narbit.Data.Jobs;
using Narbit.Data.Lanes;
using Narbit.Data.Pairs;
using Narbit.Data.Systems;
using Narbit.Engine.Jobs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Pairing;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Workspaces.Files;

/// <summary>Puts checked files into a workspace, within the caller's transaction.</summary>
/// <param name="db">The workspace.</param>
/// <param name="content">What the files say.</param>
/// <param name="by">Who takes them in.</param>
/// <param name="at">When.</param>
internal sealed class WorkspaceTaking(NarbitContext db, WorkspaceContent content, string by, DateTimeOffset at)
{
    public async Task TakeAsync(CancellationToken cancel)
    {
        foreach (var system in content.Systems)
            await SystemAsync(system, cancel);
        await WorkspaceAsync(cancel);
        await db.SaveChangesAsync(cancel);
        foreach (var (id, lane) in content.Lanes)
            await LaneAsync(id, lane, cancel);
        await db.SaveChangesAsync(cancel);
        await JobsAsync(cancel);
        foreach (var pairs in content.Pairs)
            await PairsAsync(pairs, cancel);
    }

    private async Task WorkspaceAsync(CancellationToken cancel)
    {
        var kept = await db.Workspaces.FirstOrDefaultAsync(cancel);
        var settings = content.Settings(kept?.Person);
        if (kept is null)
            db.Workspaces.Add(
                kept = new Workspace
                {
                    Name = settings.Name,
                    TimeZone = settings.TimeZone,
                    Person = settings.Person,
                }
            );
        (kept.Name, kept.TimeZone, kept.Person, kept.HubId) = (settings.Name, settings.TimeZone, settings.Person, settings.HubId);
        (kept.Currency, kept.Country, kept.Numbers, kept.Dates) = (settings.Currency, settings.Country, settings.Numbers, settings.Dates);
        kept.FirstDay = settings.FirstDay;
        kept.AnonymiseAfterDays = content.Workspace!.AnonymiseAfterDays;
        await db.Colleagues.ExecuteDeleteAsync(cancel);
        db.Colleagues.AddRange(settings.People.Select(p => new Colleague { Name = p.Name, Mail = p.Mail }));
    }

    private async Task SystemAsync(DescribedSystem described, CancellationToken cancel)
    {
        var (rights, text, document) = described;
        var system = await db.Systems.FirstOrDefaultAsync(s => s.Id == rights.Id, cancel);
        (string Document, string Address)? before = system is null ? null : (system.Document, system.Address);
        if (system is null)
            system = Added(rights.Id, document);
        else if (SystemOrigin.LeadsElsewhere(system, document, document.Address))
            ForgetSecrets(system);
        // A description that says the same in another order of spaces is no new one.
        if (before is not { } held || !WorkspaceText.SayTheSame(WorkspaceText.Description(held.Document, held.Address), text))
        {
            (system.Document, system.Address) = (text, document.Address);
            (system.Name, system.Kind, system.Mark) = (document.Name, document.Kind, document.Mark);
            (system.Currency, system.Decimals) = (document.Currency, document.Decimals);
            system.Revision++;
            await DescriptionBook.WriteAsync(db, system, before, by, at, cancel);
        }

        (system.MayRead, system.MayWrite, system.ReadsWholeDaily) = (rights.MayRead, rights.MayWrite, rights.ReadsWholeDaily);
        system.PausedAt = rights.Paused ? system.PausedAt ?? at : null;
        system.PausedBy = rights.Paused ? system.PausedBy ?? by : null;
    }

    private ConnectedSystem Added(string id, Adapters.ISystemDocument document)
    {
        var system = new ConnectedSystem
        {
            Id = id,
            Name = document.Name,
            Kind = document.Kind,
            Mark = document.Mark,
            Currency = document.Currency,
            Document = "",
            Address = "",
            Revision = 0,
        };
        db.Systems.Add(system);
        return system;
    }

    private static void ForgetSecrets(ConnectedSystem system)
    {
        (system.ProtectedCredential, system.CredentialSetAt) = (null, null);
        (system.ProtectedGrant, system.GrantedAt, system.GrantLostWhy) = (null, null, null);
    }

    private async Task LaneAsync(string id, WorkspaceLane wanted, CancellationToken cancel)
    {
        var lane = await db.Lanes.FirstOrDefaultAsync(l => l.Id == id, cancel);
        if (lane is null)
            db.Lanes.Add(
                lane = new Lane
                {
                    Id = id,
                    Kind = LaneWorks.Of(wanted.Document).Kind,
                    SourceId = wanted.From,
                    TargetId = wanted.To,
                }
            );
        (lane.Name, lane.SkuStartsWith, lane.PublishedOnly, lane.Off) = (
            wanted.Name,
            wanted.SkuStartsWith,
            wanted.PublishedOnly,
            wanted.Off
        );
        lane.Paused = wanted.Paused;
        await VersionAsync(lane, wanted, cancel);
        await db.KeptOff.Where(k => k.LaneId == id).ExecuteDeleteAsync(cancel);
        db.KeptOff.AddRange(wanted.KeptOff.Distinct(StringComparer.Ordinal).Select(k => new KeptOff { LaneId = id, SourceKey = k }));
    }

    // Lanes change jobs in any order, so they leave theirs first.
    private async Task JobsAsync(CancellationToken cancel)
    {
        var days = content.Workspace!.DaysOff ?? [];
        await db.DaysOff.ExecuteDeleteAsync(cancel);
        db.DaysOff.AddRange(days.Select(d => new DayOff { Date = d.Date, Name = d.Name }));
        var moved = content.Jobs.Values.SelectMany(j => j.Lanes).Select(l => l.Lane).ToList();
        await db.JobLanes.Where(l => moved.Contains(l.LaneId)).ExecuteDeleteAsync(cancel);
        await db.SaveChangesAsync(cancel);
        foreach (var (id, job) in content.Jobs)
            await JobDesk.PutAsync(db, id, job, at, cancel);
        await db.SaveChangesAsync(cancel);
    }

    // What is in force already is no new version.
    private async Task VersionAsync(Lane lane, WorkspaceLane wanted, CancellationToken cancel)
    {
        var document = LaneJson.Write(wanted.Document);
        var guards = wanted.Guards is null ? null : RuleJson.Write(wanted.Guards);
        var held = await db.RuleVersions.FirstOrDefaultAsync(v => v.LaneId == lane.Id && v.Number == lane.RuleNumber, cancel);
        if (held is not null && Same(held.Document, document) && Guards(held.Guards) == guards && held.Note == wanted.Note)
            return;
        db.RuleVersions.Add(
            new RuleVersion
            {
                LaneId = lane.Id,
                Number = ++lane.RuleNumber,
                Document = document,
                Guards = guards,
                Author = by,
                At = at,
                Note = wanted.Note,
            }
        );
    }

    private static bool Same(string held, string document) =>
        LaneJson.Read(held).ValueOrDefault is { } read && LaneJson.Write(read) == document;

    private static string? Guards(string? held) =>
        held is null ? null
        : GuardLimits.Read(held).ValueOrDefault is { } read ? RuleJson.Write(read)
        : held;

    private async Task PairsAsync(DescribedPairs described, CancellationToken cancel)
    {
        var how = described.Pairs;
        var couple = await db.Couples.FirstOrDefaultAsync(c => c.Kind == how.Kind && c.HubId == how.Hub && c.OtherId == how.Other, cancel);
        if (couple is null)
            db.Couples.Add(
                couple = new Couple
                {
                    HubId = how.Hub,
                    OtherId = how.Other,
                    Kind = how.Kind,
                }
            );
        (couple.AcceptsCertain, couple.Way) = (how.AcceptsCertain, how.Way);
        (couple.HabitBefore, couple.HabitAfter) = (how.HabitBefore, how.HabitAfter);
        await db.SaveChangesAsync(cancel);
        var known = (await WorkspaceExport.LinesAsync(db, couple.Id, cancel)).ToHashSet();
        var paired = known.Where(l => l.What == PairLineKind.Pair).Select(l => l.HubKey!).ToHashSet(StringComparer.Ordinal);
        var decisions = Decisions(couple.Id, paired, [.. described.Lines.Select(l => l.Line).Where(l => !known.Contains(l))]).ToList();
        if (decisions.Count == 0)
            return;
        var batch = new PairBatch
        {
            CoupleId = couple.Id,
            By = by,
            At = at,
            Note = "from the files of a workspace",
        };
        await DecisionDesk.TakeAsync(db, batch, decisions, cancel);
    }

    // A second record of the other system that is the hub's same one shares it.
    private IEnumerable<PairDecision> Decisions(long coupleId, HashSet<string> paired, IReadOnlyList<WorkspacePairLine> lines)
    {
        foreach (var line in lines.Where(l => l.What != PairLineKind.Part))
            yield return line.What switch
            {
                PairLineKind.Pair => Decision(coupleId, paired.Add(line.HubKey!) ? DecisionAct.Accept : DecisionAct.Share, line),
                PairLineKind.Create => Decision(coupleId, DecisionAct.Create, line),
                _ => Decision(coupleId, DecisionAct.SetAside, line),
            };
        foreach (var kit in lines.Where(l => l.What == PairLineKind.Part).GroupBy(l => l.OtherKey!, StringComparer.Ordinal))
        {
            var decision = Decision(coupleId, DecisionAct.Kit, new WorkspacePairLine(null, kit.Key, PairLineKind.Part, 1, null));
            decision.Parts = PairJson.Write<IReadOnlyList<KitItem>>([.. kit.Select(p => new KitItem(p.HubKey!, p.Quantity))]);
            yield return decision;
        }
    }

    private PairDecision Decision(long coupleId, DecisionAct act, WorkspacePairLine line) =>
        new()
        {
            CoupleId = coupleId,
            Act = act,
            State = DecisionState.Committed,
            HubKey = line.HubKey,
            OtherKey = line.OtherKey,
            Reason = line.Reason,
            Evidence = "from the files of a workspace",
            By = by,
            At = at,
        };
}
