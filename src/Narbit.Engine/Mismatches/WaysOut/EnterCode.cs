using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Data.Runs;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Items;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Enters a code that a crosswalk lacks, with the target's code of the most similar name, as a new version of the map.</summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class EnterCode(Database database, AdapterSource adapters, LiveFeed live, TimeProvider clock) : IWayOut
{
    private const double OfName = 0.7;
    private const string Between = ": ";

    /// <inheritdoc/>
    public string Act => "code";

    /// <inheritdoc/>
    public bool Knows(string cause) => cause is "value.crosswalk" or "held.crosswalk";

    /// <inheritdoc/>
    public async Task<IReadOnlyList<Suggested>> SuggestAsync(NarbitContext db, IReadOnlyList<Mismatch> some, CancellationToken cancel)
    {
        var found = new List<Suggested>();
        foreach (var lane in some.Where(m => m is { LaneId: not null, Subject: not null }).GroupBy(m => m.LaneId!, StringComparer.Ordinal))
        {
            var opened = await OpenLane.ForAsync(database, adapters, lane.Key, cancel);
            if (opened.ValueOrDefault is not { Document.Mapped: { } map } open)
                continue;
            foreach (var table in lane.GroupBy(m => Split(m.Subject!).Table, StringComparer.Ordinal))
            {
                if (await CrosswalkCodes.OfAsync(db, open, map, table.Key, cancel) is not { } view)
                    continue;
                var known = view.Here.Where(c => c.Suggested is not null).ToDictionary(c => c.Code, StringComparer.OrdinalIgnoreCase);
                foreach (var mismatch in table)
                    if (known.GetValueOrDefault(Split(mismatch.Subject!).Code) is { Suggested: { } to } code)
                        found.Add(new Suggested(mismatch, Of(table.Key, code.Code, to, code.Why)));
            }
        }

        return found;
    }

    private static Suggestion Of(string table, string code, string to, string? why) =>
        new("code", $"Enter {code} → {to} in the crosswalk “{table}”", why, OfName, to, Learns: true);

    private static (string Table, string Code) Split(string subject)
    {
        var at = subject.IndexOf(Between, StringComparison.Ordinal);
        return at < 0 ? (subject, "") : (subject[..at], subject[(at + Between.Length)..]);
    }

    /// <inheritdoc/>
    public async Task<Outcome<Taken>> TakeAsync(IReadOnlyList<Suggested> some, string by, CancellationToken cancel)
    {
        var (versions, settled, not) = (new List<string>(), new List<long>(), new List<NotTaken>());
        var entered = 0;
        foreach (var lane in some.GroupBy(s => s.Mismatch.LaneId!, StringComparer.Ordinal))
        {
            var entries = lane.Select(s => (Split(s.Mismatch.Subject!), To: s.Suggestion.Value!)).Distinct().ToList();
            var saved = await SaveAsync(lane.Key, entries.Select(e => (e.Item1.Table, e.Item1.Code, e.To)), by, cancel);
            if (saved.Fault is { } fault)
            {
                not.AddRange(lane.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
                continue;
            }

            versions.Add($"{lane.Key}/{saved.Value.ToString(CultureInfo.InvariantCulture)}");
            settled.AddRange(lane.Select(s => s.Mismatch.Id));
            entered += entries.Count;
        }

        var words = entered == 1 ? "1 code entered" : $"{entered:N0} codes entered";
        return new Taken($"{words}; the next run takes them", settled, not, string.Join(' ', versions));
    }

    private async Task<Outcome<int>> SaveAsync(
        string laneId,
        IEnumerable<(string Table, string From, string To)> entries,
        string by,
        CancellationToken cancel
    )
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        var lane = opened.Value;
        await using (var db = database.CreateDbContext())
            if (await db.Drafts.AnyAsync(d => d.LaneId == laneId && d.Person == by, cancel))
                return new Reason("lane.draft", "You have changed this lane's map and not saved it; save it or throw it away first.");
        if (lane.Document.Mapped is not { } mapped)
            return new Reason("lane.noMap", "This lane has no map.");
        var map = entries.Aggregate(mapped, (m, e) => With(m, e.Table, e.From, e.To));
        var save = new VersionToSave(lane.Rule.Number, lane.Document.WithMap(map), null, "codes entered from the mismatch desk");
        var saved = await new LaneMaker(database, adapters, clock).SaveAsync(lane, save, by, cancel);
        if (saved.Fault is { } changed)
            return changed;
        live.Tell(new LiveEvent("lane", laneId));
        return saved.Value.Number;
    }

    private static FieldMap With(FieldMap map, string table, string from, string to) =>
        map with
        {
            Crosswalks =
            [
                .. map.Crosswalks.Select(c => c.Name == table ? c with { Entries = [.. c.Entries, new CrosswalkEntry(from, to)] } : c),
            ],
        };

    /// <inheritdoc/>
    public async Task<Reason?> UndoAsync(string undo, string by, CancellationToken cancel)
    {
        foreach (var version in undo.Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            var slash = version.LastIndexOf('/');
            var number = int.Parse(version[(slash + 1)..], CultureInfo.InvariantCulture);
            if (await TakeBackAsync(version[..slash], number, by, cancel) is { } fault)
                return fault;
        }

        return null;
    }

    private async Task<Reason?> TakeBackAsync(string laneId, int number, string by, CancellationToken cancel)
    {
        var opened = await OpenLane.ForAsync(database, adapters, laneId, cancel);
        if (opened.Fault is { } fault)
            return fault;
        await using var db = database.CreateDbContext();
        var before = await db.RuleVersions.AsNoTracking().FirstOrDefaultAsync(v => v.LaneId == laneId && v.Number == number - 1, cancel);
        if (before is null || opened.Value.Rule.Number != number)
            return new Reason("lane.changed", "The map was changed since; take the entries out in the map itself.");
        var save = new VersionToSave(number, LaneJson.Read(before.Document).Value, null, "codes taken back from the mismatch desk");
        var saved = await new LaneMaker(database, adapters, clock).SaveAsync(opened.Value, save, by, cancel);
        live.Tell(new LiveEvent("lane", laneId));
        return saved.Fault;
    }

    /// <inheritdoc/>
    public async Task<IReadOnlyList<Lesson>> LessonsAsync(NarbitContext db, string undo, DateTimeOffset at, CancellationToken cancel)
    {
        var lessons = new List<Lesson>();
        foreach (var version in undo.Split(' '))
        {
            var slash = version.LastIndexOf('/');
            var (lane, number) = (version[..slash], int.Parse(version[(slash + 1)..], CultureInfo.InvariantCulture));
            var versions = await db
                .RuleVersions.AsNoTracking()
                .Where(v => v.LaneId == lane && (v.Number == number || v.Number == number - 1))
                .OrderBy(v => v.Number)
                .ToListAsync(cancel);
            var runs = db.Runs.Where(r => r.LaneId == lane && r.RuleNumber >= number).Select(r => r.Id);
            var acted = await db.Writes.CountAsync(w => runs.Contains(w.RunId) && w.State == WriteState.Confirmed, cancel);
            if (versions is [var before, var after])
                lessons.AddRange(
                    Entries(after)
                        .Except(Entries(before))
                        .Select(e => new Lesson($"{e} in the crosswalk", acted, $"/lanes/{lane}/crosswalks"))
                );
        }

        return lessons;
    }

    private static IEnumerable<string> Entries(Data.Lanes.RuleVersion version) =>
        (LaneJson.Read(version.Document).ValueOrDefault?.Mapped?.Crosswalks ?? []).SelectMany(c =>
            c.Entries.Select(e => $"{c.Name}: {e.From} → {e.To}")
        );
}
