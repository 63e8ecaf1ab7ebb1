using Narbit.Core.Mapping;
using Narbit.Data;
using Narbit.Data.Mirror;

namespace Narbit.Engine.Lanes.Maps;

/// <summary>Looks at a crosswalk of a map beside the codes that both mirrors really hold.</summary>
public static class CrosswalkCodes
{
    /// <summary>The crosswalk, or null where the map has none of that name.</summary>
    public static async Task<CrosswalkView?> OfAsync(NarbitContext db, OpenLane lane, FieldMap map, string name, CancellationToken cancel)
    {
        var at = map.Crosswalks.ToList().FindIndex(c => c.Name == name);
        if (at < 0)
            return null;
        var crosswalk = map.Crosswalks[at];
        var mapping = map.Fields.FirstOrDefault(f => f.Steps.Any(s => Uses(s, name)));
        var codes = mapping is null ? [] : await HereAsync(db, lane, mapping, cancel);
        var there = mapping is null ? [] : await ValueCounts.OfAsync(db, lane.Target.System.Id, lane.Work.Record, mapping.Target, cancel);
        var known = there.Select(c => c.Value).ToList();
        var faults = CrosswalkTable.Check(
            crosswalk,
            $"crosswalks[{at}]",
            codes.Select(c => c.Value).ToHashSet(StringComparer.OrdinalIgnoreCase),
            known.ToHashSet(StringComparer.OrdinalIgnoreCase)
        );
        return new CrosswalkView(
            name,
            mapping?.Source.Fields is { } fields ? string.Join(", ", fields) : "",
            mapping?.Target ?? "",
            Rows(crosswalk, codes, known),
            [.. there.Select(c => new CodeThere(c.Value, c.Records))],
            [.. faults]
        );
    }

    private static bool Uses(MapStep step, string table) => step.Do == "crosswalk" && step.With?.GetValueOrDefault("table") == table;

    // The source's codes as they are when they reach the crosswalk: steps before it may have changed them.
    private static async Task<List<ValueCount>> HereAsync(NarbitContext db, OpenLane lane, FieldMapping mapping, CancellationToken cancel)
    {
        if (mapping.Source is not { Fields: [var field], Record: SourceRecord.Own or SourceRecord.Parent })
            return [];
        var before = new FieldMap { Fields = [mapping with { Steps = [.. mapping.Steps.TakeWhile(s => s.Do != "crosswalk")] }] };
        var chain = ReadyMap.Make(before, lane.Sides.Map, out _)?.Fields[0].Chain;
        string Reaching(string code) => chain?.Run(new MapRecord(new Dictionary<string, string> { [field] = code })).Value ?? code;
        var here = await ValueCounts.OfAsync(db, lane.Source.System.Id, lane.Work.Record, field, cancel);
        return
        [
            .. here.GroupBy(c => Reaching(c.Value), StringComparer.OrdinalIgnoreCase)
                .Select(g => new ValueCount(g.Key, g.Sum(c => c.Records))),
        ];
    }

    private static List<CodeHere> Rows(Crosswalk crosswalk, List<ValueCount> codes, List<string> known)
    {
        var table = new CrosswalkTable(crosswalk);
        var met = codes.Select(c => c.Value).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var unused = crosswalk.Entries.Where(e => !met.Contains(e.From)).Select(e => new CodeHere(e.From, 0, e.To, null, null));
        return
        [
            .. codes
                .Select(Row)
                .Concat(unused)
                .OrderBy(c => c.To is not null)
                .ThenByDescending(c => c.Records)
                .ThenBy(c => c.Code, StringComparer.Ordinal),
        ];

        CodeHere Row(ValueCount code)
        {
            var entry = table.Find(code.Value);
            var suggestion = entry is null ? CrosswalkTable.Suggest(code.Value, known) : null;
            return new CodeHere(code.Value, code.Records, entry?.To, suggestion?.To, suggestion?.Why);
        }
    }
}
