using Narbit.Core;
using Narbit.Core.Mapping;
using Narbit.Core.Mismatches;
using Narbit.Data;
using Narbit.Data.Mismatches;
using Narbit.Engine.Lanes;
using Narbit.Engine.Lanes.Maps;
using Narbit.Engine.Systems;

namespace Narbit.Engine.Mismatches.WaysOut;

/// <summary>Enters a code that a crosswalk lacks, with the target's code of the most similar name, as a new version of the map.</summary>
/// <param name="database">Where lanes are.</param>
/// <param name="adapters">How systems are described.</param>
/// <param name="live">Who hears of it.</param>
/// <param name="clock">The time.</param>
public sealed class EnterCode(Database database, AdapterSource adapters, LiveFeed live, TimeProvider clock) : WayOut<SavedVersion>
{
    private const double OfName = 0.7;
    private const string Between = ": ";

    private readonly MapVersions _versions = new(database, adapters, live, clock);

    /// <inheritdoc/>
    public override string Act => "code";

    /// <inheritdoc/>
    public override bool Knows(string cause) => cause is "value.crosswalk" or "held.crosswalk";

    /// <inheritdoc/>
    public override async Task<IReadOnlyList<Suggested>> SuggestAsync(
        NarbitContext db,
        IReadOnlyList<Mismatch> some,
        CancellationToken cancel
    )
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
                    if (known.GetValueOrDefault(Split(mismatch.Subject!).Code) is { Suggested: not null } code)
                        found.Add(new Suggested(mismatch, Of(table.Key, code)));
            }
        }

        return found;
    }

    private static Suggestion Of(string table, CodeHere code) =>
        new("code", Words(table, code), code.Why, OfName, code.Suggested, Learns: true)
        {
            Effect = code.Records == 1 ? "1 record has this code" : $"{code.Records:N0} records have this code",
        };

    private static string Words(string table, CodeHere code) => $"Enter {code.Code} → {code.Suggested} in the crosswalk “{table}”";

    private static (string Table, string Code) Split(string subject)
    {
        var at = subject.IndexOf(Between, StringComparison.Ordinal);
        return at < 0 ? (subject, "") : (subject[..at], subject[(at + Between.Length)..]);
    }

    /// <inheritdoc/>
    protected override async Task<Outcome<Taken>> TakeAsync(
        IReadOnlyList<Suggested> some,
        ActLog<SavedVersion> log,
        string by,
        CancellationToken cancel
    )
    {
        var (settled, not) = (new List<long>(), new List<NotTaken>());
        var entered = 0;
        foreach (var lane in some.GroupBy(s => s.Mismatch.LaneId!, StringComparer.Ordinal))
        {
            var entries = lane.Select(s => (Split(s.Mismatch.Subject!), To: s.Suggestion.Value!)).Distinct().ToList();
            var saved = await _versions.SaveAsync(
                lane.Key,
                (_, map) => With(map, entries.Select(e => (e.Item1.Table, e.Item1.Code, e.To))),
                "codes entered from the mismatch desk",
                by,
                log.ActId,
                cancel
            );
            if (saved.Fault is { } fault)
            {
                not.AddRange(lane.Select(s => new NotTaken(s.Mismatch.Id, fault.Words)));
                continue;
            }

            await log.DoneAsync(saved.Value);
            settled.AddRange(lane.Select(s => s.Mismatch.Id));
            entered += entries.Count;
        }

        var words = entered == 1 ? "1 code entered" : $"{entered:N0} codes entered";
        return new Taken($"{words}; the next run takes them", settled, not);
    }

    private static Outcome<FieldMap> With(FieldMap map, IEnumerable<(string Table, string From, string To)> entries)
    {
        foreach (var (table, from, to) in entries)
        {
            if (map.Crosswalks.FirstOrDefault(c => c.Name == table) is not { } crosswalk)
                return new Reason("map.noTable", $"The map has no crosswalk “{table}” any more; look at it once more.");
            if (new CrosswalkTable(crosswalk).Find(from) is { } older && older.To != to)
                return new Reason(
                    "mismatch.contradicts",
                    $"The crosswalk “{table}” says {from} → {older.To} by now; change it there if {to} is right."
                );
            var more = crosswalk with { Entries = [.. crosswalk.Entries, new CrosswalkEntry(from, to)] };
            map = map with { Crosswalks = [.. map.Crosswalks.Select(c => c.Name == table ? more : c)] };
        }

        return map;
    }

    /// <inheritdoc/>
    protected override Task<IReadOnlyList<SavedVersion>> BegunAsync(NarbitContext db, long act, CancellationToken cancel) =>
        MapVersions.OfActAsync(db, act, cancel);

    /// <inheritdoc/>
    protected override Task<Reason?> UndoAsync(SavedVersion part, string by, CancellationToken cancel) =>
        _versions.TakeBackAsync(part, by, cancel);

    /// <inheritdoc/>
    protected override Task<IReadOnlyList<Lesson>> LessonsAsync(
        NarbitContext db,
        IReadOnlyList<SavedVersion> parts,
        DateTimeOffset at,
        CancellationToken cancel
    ) =>
        MapVersions.LessonsAsync(
            db,
            parts,
            (before, after) => Entries(after).Except(Entries(before)).Select(e => $"{e} in the crosswalk"),
            "crosswalks",
            cancel
        );

    private static IEnumerable<string> Entries(FieldMap map) =>
        map.Crosswalks.SelectMany(c => c.Entries.Select(e => $"{c.Name}: {e.From} → {e.To}"));

    /// <inheritdoc/>
    protected override SavedVersion Earlier(string text) => MapVersions.Earlier(text);
}
